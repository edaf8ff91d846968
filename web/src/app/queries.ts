// What has been asked of the server, and who is signed in.
import { QueryClient, queryOptions } from '@tanstack/react-query';
import { Refusal, client, get } from '@/shared/api/client';

export const queries = new QueryClient({
  defaultOptions: { queries: { retry: (count, trouble) => !(trouble instanceof Refusal) && count < 3, refetchOnWindowFocus: false } },
});

/** Asked before the page is drawn, and not a second time by the page that is drawn of it. */
export const askWho = queryOptions({ queryKey: ['me'], queryFn: () => get(client.GET('/api/me')), staleTime: 10_000 });
