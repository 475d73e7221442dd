import { useState } from "react";
import { body, POST } from "../shared/api/client";
import { useGet } from "../shared/api/useGet";
import { useSend } from "../shared/api/useSend";

/** Marks the demo on every page; one that was opened beside a lab can be closed, and is gone then. */
export function DemoMark() {
  const demo = useGet("/api/demo", {}, { staleTime: Infinity }).data;
  const [gone, setGone] = useState(false);
  const close = useSend(
    (_: null) => body(POST("/api/demo/close")),
    () => setGone(true),
  );
  if (!demo?.is_demo) return null;
  return (
    <>
      <span className="demo-mark" title="Nothing here is your own: try anything">
        Demo
      </span>
      {demo.closes && (
        <button type="button" className="btn" disabled={close.isPending} onClick={() => close.mutate(null)}>
          Close the demo
        </button>
      )}
      {gone && (
        <div className="demo-gone" role="alert">
          <div className="panel">
            <h2>The demo is closed and gone.</h2>
            <p className="mb-0">Close this tab, or go back to your own lab.</p>
          </div>
        </div>
      )}
    </>
  );
}
