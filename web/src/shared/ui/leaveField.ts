// What is being typed is kept when it is left. A field that is taken off the page is not left, and nobody hears of it: so it is left before.

/** Leaves the field that somebody types in, if any: what hears of that keeps what stands there. */
export function leaveField(): void {
  const field = document.activeElement;
  if (field instanceof HTMLInputElement || field instanceof HTMLTextAreaElement || (field instanceof HTMLElement && field.isContentEditable)) field.blur();
}

/** Leaves it whenever the page around it goes: back and forward, a link that a finger taps without leaving the field, a reload, the window closed. */
export function leaveFieldsInTime(): void {
  const first = { capture: true };
  window.addEventListener('popstate', leaveField, first);
  window.addEventListener('pagehide', leaveField, first);
  window.addEventListener(
    'click',
    (e) => {
      if (e.target instanceof Element && e.target.closest('a[href]')) leaveField();
    },
    first,
  );
}
