import { useLayoutEffect, useRef, useState } from "react";

/** The width a drawing has, so that its words keep their size on a phone. */
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
    return () => observer.disconnect();
  }, []);
  return [ref, width];
}
