// Whether the server answers in the form that this page was built for; after it has been renewed it may not.
import { useSyncExternalStore } from 'react';

declare const __API_FORM__: string;

let renewed = false;
const watching = new Set<() => void>();

/** Whether an answer is of the form that this page was built for. */
export function isOfThisForm(response: Response): boolean {
  const form = response.headers.get('Hobrel-Form');
  return form === null || form === __API_FORM__;
}

/** Whether what an answer holds can be read here. Once it could not, nothing more is: a page is of one form. */
export function isReadable(response: Response): boolean {
  if (!isOfThisForm(response) && !renewed) {
    renewed = true;
    for (const tell of watching) tell();
  }
  return !renewed;
}

/** Whether the server has been renewed under this page. */
export function useRenewed(): boolean {
  return useSyncExternalStore(
    (tell) => {
      watching.add(tell);
      return () => watching.delete(tell);
    },
    () => renewed,
  );
}
