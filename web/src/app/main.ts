// The first code that runs, and little of it: it sends for everything else at once, and for what the first view will show.
import { askEarly, bookAddress } from '@/shared/api/early';
import { isStage, loaders } from './stationCode';

const [, book, stage = ''] = /^\/books\/(\d+)\/?(\w*)/.exec(window.location.pathname) ?? [];
void import('./start');
askEarly('/api/me');
if (book) {
  askEarly(bookAddress(Number(book)));
  // what cannot be had now is asked for again, and said, where it is drawn
  import('./BookPage').catch(() => undefined);
  if (isStage(stage)) loaders[stage]().catch(() => undefined);
}
