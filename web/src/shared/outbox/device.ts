/** What this browser keeps of a workshop for when the server cannot be reached: entries that wait, and copies of answers. */
import { openDB, type DBSchema, type IDBPDatabase } from "idb";

/** What the server said to an entry it refused. */
export type Refused = {
  status: number;
  message: string;
  differences: { field: string; words: string; yours: string; theirs: string }[];
  /** Fields that would save it over what stands now; null where nothing would. */
  over: Record<string, unknown> | null;
};

/** Something entered that waits to be sent: the request as it was made, and whose it is. */
export type Entry = {
  /** Gives the order; the device counts. */
  id: number;
  /** The key under which the server keeps it once, however often it comes. */
  key: string;
  by: string;
  words: string;
  /** The page it was entered on. */
  page: string;
  method: string;
  path: string;
  type: string | null;
  body: ArrayBuffer;
  at: string;
  refused: Refused | null;
};

type Copy = { hash: string; data: unknown; at: string };

interface Kept extends DBSchema {
  entries: { key: number; value: Entry };
  copies: { key: string; value: Copy };
}

let opened: Promise<IDBPDatabase<Kept>> | null = null;

/** The device's own database, opened once. */
export function device(): Promise<IDBPDatabase<Kept>> {
  opened ??= openDB<Kept>("setback", 1, {
    upgrade(db) {
      db.createObjectStore("entries", { keyPath: "id", autoIncrement: true });
      db.createObjectStore("copies", { keyPath: "hash" });
    },
    // The browser closed it by itself: the next who asks opens it anew.
    terminated: () => (opened = null),
    // Another tab with a newer version of the app must not wait for this one.
    blocking: () => void opened?.then((db) => db.close()).finally(() => (opened = null)),
  });
  return opened;
}
