import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import Button from "react-bootstrap/Button";
import { createPortal } from "react-dom";
import { useLocation } from "react-router";
import { body, GET, TAB } from "../shared/api/client";
import { refresh } from "../shared/api/refresh";
import { readFromAny } from "../shared/api/touched";
import { useTyping } from "./useTyping";

const ASK_MS = 3_000;
type News = { tables: readonly string[] | null; by: readonly string[] };

/** What others changed reaches this page within seconds, never under a hand that types; and who else is here. */
export function Together() {
  const queries = useQueryClient();
  const { pathname: page } = useLocation();
  const isTyping = useTyping();
  const [waiting, setWaiting] = useState<News | null>(null);
  const [here, setHere] = useState<readonly string[]>([]);
  const since = useRef("");
  useEffect(() => {
    let isOver = false;
    async function ask() {
      if (document.hidden) return;
      const query = { since: since.current, tab: TAB, page };
      const news = await body(GET("/api/together", { params: { query } })).catch(() => null);
      if (!news || isOver) return;
      const isFirst = since.current === "";
      since.current = news.since;
      setHere(news.also_here);
      if (!isFirst && (news.tables === null || news.tables.length))
        setWaiting((before) => added(before, { tables: news.tables, by: news.changed_by }));
    }
    void ask();
    const timer = setInterval(() => void ask(), ASK_MS);
    return () => {
      isOver = true;
      clearInterval(timer);
      setHere([]);
    };
  }, [page]);
  const show = (news: News) => {
    setWaiting(null);
    void refresh(queries, readFromAny(news.tables));
  };
  const concerns =
    waiting && queries.getQueryCache().findAll({ type: "active", predicate: readFromAny(waiting.tables) });
  useEffect(() => {
    if (waiting && !isTyping) show(waiting);
  });
  return (
    <>
      {here.length > 0 && (
        <span className="also-here no-print" role="status">
          <span aria-hidden="true">{here.join(" ")}</span>
          <span className="visually-hidden">{names(here)} also has this page open</span>
        </span>
      )}
      {waiting && isTyping && Boolean(concerns?.length) && (
        <Waiting by={names(waiting.by)} onShow={() => show(waiting)} />
      )}
    </>
  );
}

/** At the foot of the window, outside the bar, whose colours are others. */
function Waiting({ by, onShow }: { by: string; onShow: () => void }) {
  return createPortal(
    <div className="news no-print" role="status">
      {by} changed what this page shows.
      <Button size="sm" variant="quiet" onClick={onShow}>
        Show it
      </Button>
    </div>,
    document.body,
  );
}

const names = (initials: readonly string[]) =>
  initials.length ? initials.map((one) => (one === "?" ? "Somebody" : one)).join(", ") : "The server";

/** Two pieces of news as one. */
function added(before: News | null, next: News): News {
  if (!before) return next;
  const tables = before.tables && next.tables ? [...new Set([...before.tables, ...next.tables])] : null;
  return { tables, by: [...new Set([...before.by, ...next.by])] };
}
