import { useEffect, useState } from "react";

const isField = (one: EventTarget | null) =>
  one instanceof HTMLInputElement || one instanceof HTMLTextAreaElement || one instanceof HTMLSelectElement;

/** Whether a hand is at a field: something was entered in it, and it has the focus still. */
export function useTyping(): boolean {
  const [isTyping, setTyping] = useState(false);
  useEffect(() => {
    const begin = (event: Event) => isField(event.target) && setTyping(true);
    const end = () => setTyping(false);
    document.addEventListener("input", begin);
    document.addEventListener("focusout", end);
    return () => {
      document.removeEventListener("input", begin);
      document.removeEventListener("focusout", end);
    };
  }, []);
  return isTyping;
}
