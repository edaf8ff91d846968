// Who is signed in; changing that: nothing that was fetched for the one before stays.
import { type QueryClient, useQueryClient } from '@tanstack/react-query';
import { leaveField } from '../ui/leaveField';
import { forgetDrafts } from '../ui/useDraft';
import type { Me } from './client';
import { renewAnswers } from './shell';

export function becomeSomebody(queries: QueryClient, me: Me): void {
  leaveField();
  queries.removeQueries({ predicate: (query) => query.queryKey[0] !== 'me' });
  queries.setQueryData(['me'], me);
  if (!me.role) forgetDrafts();
  // where nothing can be kept there is nothing to forget
  renewAnswers(me.role !== '').catch(() => undefined);
}

/** Whoever is signed in, on pages that only they see. */
export function useMe(): Me {
  const me = useQueryClient().getQueryData<Me>(['me']);
  if (!me) throw new Error('Nobody is signed in here.');
  return me;
}
