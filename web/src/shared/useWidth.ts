import { useLayoutEffect, useRef, useState } from "react";
import { flushSync } from "react-dom";

/** Widths of an A4 sheet between its margins, px: upright, and lengthwise where a table needs it. */
const SHEET = { upright: 690, lengthwise: 1020 };

/** The width an element will have on paper: nobody measures it there, so it shrinks with the page. */
function onPaper(element: HTMLElement): number {
  const page = document.querySelector("main");
  if (!page?.clientWidth) return element.clientWidth;
  const sheet = page.querySelector(".data-table, .wide-page") ? SHEET.lengthwise : SHEET.upright;
  return Math.floor(element.clientWidth * Math.min(sheet / page.clientWidth, 1));
}

/** The width a drawing has, so that its words keep their size on a phone and on paper. */
export function useWidth<T extends HTMLElement>(first = 720): [React.RefObject<T | null>, number] {
  const ref = useRef<T>(null);
  const [width, setWidth] = useState(first);
  useLayoutEffect(() => {
    const element = ref.current;
    if (!element) return;
    const observer = new ResizeObserver((entries) =>
      entries.forEach((one) => setWidth(Math.floor(one.contentRect.width))),
    );
    observer.observe(element);
    // The sheet is laid out as soon as these return.
    const before = () => flushSync(() => setWidth(onPaper(element)));
    const after = () => setWidth(element.clientWidth);
    window.addEventListener("beforeprint", before);
    window.addEventListener("afterprint", after);
    return () => {
      observer.disconnect();
      window.removeEventListener("beforeprint", before);
      window.removeEventListener("afterprint", after);
    };
  }, []);
  return [ref, width];
}
