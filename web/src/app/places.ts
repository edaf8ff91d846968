// The pages and their addresses.
import { matchPath } from 'react-router';
import type { Me } from '@/shared/api/client';
import { bookAddress, earlyAnswer } from '@/shared/api/early';
import { type Later, later } from '@/shared/ui/later';
import { askWho, queries } from './queries';
import { stations } from './stages';
import { isStage } from './stationCode';

export const SignIn = later(() => import('./SignIn').then((m) => m.SignIn));
export const Begin = later(() => import('./Begin').then((m) => m.Begin));
export const Invitation = later(() => import('./Invitation').then((m) => m.Invitation));

interface Place {
  path: string;
  Page: Later<{ me: Me }>;
  forTeachers?: boolean;
}

const BOOK = '/books/:book/:stage?';

const places: Place[] = [
  { path: '/', Page: later(() => import('@/classroom/StartPage').then((m) => m.StartPage)) },
  { path: '/school', Page: later(() => import('@/school/SchoolPage').then((m) => m.SchoolPage)), forTeachers: true },
  { path: '/classes/:id', Page: later(() => import('@/school/ClassPage').then((m) => m.ClassPage)), forTeachers: true },
  { path: '/practicals/:practical/pool', Page: later(() => import('./PoolPage').then((m) => m.PoolPage)) },
  { path: '/practicals/:practical/walkround', Page: later(() => import('@/walkround/Walkround').then((m) => m.Walkround)), forTeachers: true },
  { path: '/practicals/:practical/hand-ins/:handIn?', Page: later(() => import('@/marking/Marking').then((m) => m.Marking)), forTeachers: true },
  { path: BOOK, Page: later(() => import('./BookPage').then((m) => m.BookPage)) },
];

export const placesOf = (me: Me): Place[] => places.filter((place) => me.role === 'teacher' || !place.forTeachers);

/** Everything that the first view is drawn of, so that it is drawn once. What does not come is asked for again, and said, where it is drawn. */
export async function firstView(): Promise<void> {
  const { pathname } = window.location;
  const { book = '', stage = '' } = matchPath(BOOK, pathname)?.params ?? {};
  const code = Promise.allSettled([isStage(stage) && stations[stage].bring(), book && earlyAnswer(bookAddress(Number(book)))]);
  const me = await queries.query(askWho).catch(() => undefined);
  const place = me?.role ? placesOf(me).find(({ path }) => matchPath(path, pathname)) : undefined;
  await Promise.allSettled([code, place?.Page.bring(), me && !me.role && (me.has_begun ? SignIn : Begin).bring()]);
}
