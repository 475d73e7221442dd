/** What cannot be read is never saved as if the field were empty: it stops the saving and gets the focus. */
import { useEffect, type RefObject } from "react";

const MARK = "data-unreadable";
const DIALOGS = ".modal.show, .offcanvas.show";
/** What stands apart from the page: undoing, timers and who is working never wait for a field of the page. */
const APART = ".toast, header";

/** Marks a field while its text has a problem; a form that holds it cannot be submitted meanwhile. */
export function useUnreadable(field: RefObject<HTMLInputElement | null>, problem: string | undefined): void {
  useEffect(() => {
    const here = field.current;
    if (!here || !problem) return;
    here.setAttribute(MARK, problem);
    const { form } = here;
    // On the form itself and before anybody above it hears: React's handlers sit above.
    const stop = (event: Event) => {
      event.preventDefault();
      event.stopImmediatePropagation();
      here.focus();
    };
    form?.addEventListener("submit", stop, true);
    return () => {
      here.removeAttribute(MARK);
      form?.removeEventListener("submit", stop, true);
    };
  }, [field, problem]);
}

/** The first unreadable field that stands in no form and would be left out of what is sent from here, if there is one. */
export function unreadableHere(): { field: HTMLInputElement; problem: string } | null {
  if (document.activeElement?.closest(APART)) return null;
  const scope = [...document.querySelectorAll(DIALOGS)].at(-1) ?? document;
  const field = [...scope.querySelectorAll<HTMLInputElement>(`input[${MARK}]`)].find((one) => one.form === null);
  return field ? { field, problem: field.getAttribute(MARK) ?? "" } : null;
}
