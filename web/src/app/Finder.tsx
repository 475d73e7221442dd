import { useEffect, useState, type KeyboardEvent } from "react";
import Form from "react-bootstrap/Form";
import Modal from "react-bootstrap/Modal";
import { Link, useNavigate } from "react-router";
import { body, GET, type Schemas } from "../shared/api/client";
import { useGet } from "../shared/api/useGet";

export function placeOf(found: Schemas["Found"]): string {
  switch (found.kind) {
    case "coupon":
      return `/coupons/${found.code}`;
    case "calibration":
      return `/calibrate/${found.id}`;
    case "test":
      return `/test/${found.code}`;
    case "specimen":
      return `/test/${found.detail}/${found.code}`;
    case "brief":
      return "/test/briefs";
    case "set":
      return `/sets/${found.code}`;
    case "blend":
      return `/blend/recipes/${found.id}`;
    case "batch":
      return `/blend/batches/${found.code}`;
    case "series":
      return `/blend/series/${found.code}`;
    case "qualification":
      return `/qualify/records/${found.code}`;
    case "warm start":
      return `/climate/warm-start/${found.code}`;
    case "resin":
      return `/shelf/resins?edit=${found.id}`;
    case "bottle":
      return `/shelf/bottles?edit=${found.id}`;
    case "printer":
      return `/shelf/printers?edit=${found.id}`;
    default:
      return `/shelf/finish-routes?edit=${found.id}`;
  }
}

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
  const found = text.trim() ? (query.data?.items ?? []) : [];

  async function onKeyDown(event: KeyboardEvent) {
    if (event.key === "ArrowDown" || event.key === "ArrowUp") {
      event.preventDefault();
      setOn((at) => Math.min(Math.max(at + (event.key === "ArrowDown" ? 1 : -1), 0), found.length - 1));
    }
    if (event.key === "Enter" && text.trim()) {
      event.preventDefault();
      // A scanner types faster than answers come: ask once more for exactly this text.
      const fresh = (await body(GET("/api/find", { params: { query: { q: text } } }))).items;
      const chosen =
        fresh.find((f) => f.code.toLowerCase() === text.trim().toLowerCase()) ?? fresh[Math.min(on, fresh.length - 1)];
      if (chosen) {
        onClose();
        void navigate(placeOf(chosen));
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
                <Link to={placeOf(one)} className={index === on ? "on" : ""} onClick={onClose}>
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
        {text.trim() && query.data && !found.length && (
          <p className="text-secondary m-2">Nothing here is called “{text}”.</p>
        )}
        {!text.trim() && (
          <p className="text-secondary m-2">
            Type the code or name of anything: a coupon, a resin, a printer, a set, a batch, a signed record.
          </p>
        )}
      </Modal.Body>
    </Modal>
  );
}
