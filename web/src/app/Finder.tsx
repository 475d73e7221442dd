import { useEffect, useState, type KeyboardEvent } from "react";
import Form from "react-bootstrap/Form";
import Modal from "react-bootstrap/Modal";
import { Link, useNavigate } from "react-router";
import { body, GET } from "../shared/api/client";
import { useGet } from "../shared/api/useGet";
import { placeOfFound } from "../shared/places";
import { type Place, placesNamed } from "./actions";

type Shown = { kind: string; id: string; code: string; title: string; detail: string; path: string };
const asShown = ({ title, path }: Place): Shown => ({ kind: "go to", id: path, code: "", title, detail: "", path });

/** Find anything; with a coupon in the hand, its code typed or scanned anywhere opens its reading. */
export function Finder({ start, onClose }: { start: string | null; onClose: () => void }) {
  const [text, setText] = useState("");
  const [on, setOn] = useState(0);
  const navigate = useNavigate();
  useEffect(() => setText(start ?? ""), [start]);
  useEffect(() => setOn(0), [text]);
  const query = useGet(
    "/api/find",
    { params: { query: { q: text } } },
    { enabled: start !== null && text.trim().length > 0, placeholderData: (held) => held },
  );
  const found: Shown[] = text.trim()
    ? [
        ...placesNamed(text).map(asShown),
        ...(query.data?.items ?? []).map((one) => ({ ...one, path: placeOfFound(one) })),
      ]
    : [];

  async function onKeyDown(event: KeyboardEvent) {
    if (event.key === "ArrowDown" || event.key === "ArrowUp") {
      event.preventDefault();
      setOn((at) => Math.min(Math.max(at + (event.key === "ArrowDown" ? 1 : -1), 0), found.length - 1));
    }
    if (event.key === "Enter" && text.trim()) {
      event.preventDefault();
      // A scanner types faster than answers come: ask once more for exactly this text.
      const fresh = (await body(GET("/api/find", { params: { query: { q: text } } }))).items;
      const shown: Shown[] = [
        ...placesNamed(text).map(asShown),
        ...fresh.map((one) => ({ ...one, path: placeOfFound(one) })),
      ];
      const chosen =
        shown.find((f) => f.code.toLowerCase() === text.trim().toLowerCase()) ?? shown[Math.min(on, shown.length - 1)];
      if (chosen) {
        onClose();
        void navigate(chosen.path);
      }
    }
  }
  return (
    <Modal show={start !== null} onHide={onClose} aria-label="Find anything">
      <Modal.Body>
        <Form.Control
          autoFocus
          size="lg"
          type="search"
          aria-label="Find by code or name"
          placeholder="Code or name"
          value={text}
          onChange={(event) => setText(event.target.value)}
          onKeyDown={(event) => void onKeyDown(event)}
        />
        {found.length > 0 && (
          <div className="found mt-2" role="list" aria-label="Found">
            {found.map((one, index) => (
              <div role="listitem" key={`${one.kind} ${one.id}`}>
                <Link to={one.path} className={index === on ? "on" : ""} onClick={onClose}>
                  <span className="kind">{one.kind}</span>
                  <span className="num">{one.code}</span>
                  <span>
                    {one.title} <span className="text-secondary">{one.detail}</span>
                  </span>
                </Link>
              </div>
            ))}
          </div>
        )}
        {text.trim() && query.data && !found.length && <p className="text-secondary m-2">No match for “{text}”.</p>}
        {!text.trim() && (
          <p className="text-secondary m-2">
            Type a code, a name or what you want to do: “slate cormorant”, “log a print”, 104R.
          </p>
        )}
      </Modal.Body>
    </Modal>
  );
}
