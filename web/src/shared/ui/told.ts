import type { Schemas } from '@/shared/api/client';

/** The text of what is said at one place; '' where nothing is. */
export function told(sentences: Schemas['Sentence'][] | undefined, between = ' '): string {
  return (sentences ?? []).map((s) => s.text).join(between);
}
