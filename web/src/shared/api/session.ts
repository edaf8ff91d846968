// Changing who is signed in: nothing that was fetched for the one before stays.
import type { QueryClient } from '@tanstack/react-query';
import type { Me } from './client';

export function becomeSomebody(queries: QueryClient, me: Me): void {
  queries.removeQueries({ predicate: (query) => query.queryKey[0] !== 'me' });
  queries.setQueryData(['me'], me);
}
