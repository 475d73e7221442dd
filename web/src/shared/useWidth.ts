import { useLayoutEffect, useRef, useState } from "react";
import { flushSync } from "react-dom";

/** Widths of an A4 sheet between its margins, px: upright, and lengthwise where a table needs it. */
const SHEET = { upright: 690, lengthwise: 1020 };

/** The width on paper of what is so wide on screen: nobody measures it there, so it shrinks with the page. */
function onPaper(width: number): number {
  const page = document.querySelector("main");
  if (!page?.clientWidth) return width;
  const sheet = page.querySelector(".data-table, .wide-page") ? SHEET.lengthwise : SHEET.upright;
  return Math.floor(width * Math.min(sheet / page.clientWidth, 1));
}

/** The width a drawing has, so that its words keep their size on a phone and on paper. */
export function useWidth<T extends HTMLElement>(first = 720): [React.RefObject<T | null>, number] {
  const ref = useRef<T>(null);
  const [width, setWidth] = useState(first);
  useLayoutEffect(() => {
    const element = ref.current;
    if (!element) return;
    let onScreen = first;
    const observer = new ResizeObserver((entries) =>
      entries.forEach((one) => setWidth((onScreen = Math.floor(one.contentRect.width)))),
    );
    observer.observe(element);
    // The sheet is laid out as soon as these return.
    const before = () => flushSync(() => setWidth(onPaper(onScreen)));
    const after = () => setWidth(onScreen);
    window.addEventListener("beforeprint", before);
    window.addEventListener("afterprint", after);
    return () => {
      observer.disconnect();
      window.removeEventListener("beforeprint", before);
      window.removeEventListener("afterprint", after);
    };
  }, [first]);
  return [ref, width];
}
