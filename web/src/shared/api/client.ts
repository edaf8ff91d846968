// The typed client of our own API. Errors arrive as problem+json and leave here as a Refusal.
import createClient from 'openapi-fetch';
import { fetchOrTake } from './early';
import { isReadable } from './form';
import type { components, paths } from './schema';
import { begin, wordsFor } from './underway';

export type Schemas = components['schemas'];

export class Refusal extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    message: string,
    readonly theirs: string | null = null,
    /** Edits that may be wanted instead. */
    readonly offers: readonly Schemas['OfferOut'][] = [],
    /** What in a form is wrong. */
    readonly field: string = '',
  ) {
    super(message);
  }
}

/** The server could not be reached at all: what was to be sent can be sent again later. */
export class Unreachable extends Error {}

/** The server has been renewed, and answers in a form that this page cannot read. What was to be sent is sent by the page that comes next. */
export class Renewed extends Unreachable {}

function csrfToken(): string {
  return /(?:^|; )csrftoken=([^;]+)/.exec(document.cookie)?.[1] ?? '';
}

const ends = new Map<string, () => void>();

function end(id: string): void {
  ends.get(id)?.();
  ends.delete(id);
}

export const client = createClient<paths>({ baseUrl: '/', fetch: fetchOrTake });
client.use({
  onRequest({ request, schemaPath, id }) {
    if (request.method !== 'GET') request.headers.set('X-CSRFToken', csrfToken());
    ends.set(id, begin(wordsFor(request.method, schemaPath)));
    return request;
  },
  onResponse({ id }) {
    end(id);
  },
  onError({ id }) {
    end(id);
  },
});

interface Answer<T> {
  data?: T;
  error?: unknown;
  response: Response;
}

/** Unwrap an answer; turn a problem into a Refusal and a dead network into Unreachable. */
export async function get<T>(sent: Promise<Answer<T>>): Promise<T> {
  let answer: Answer<T>;
  try {
    answer = await sent;
  } catch {
    throw new Unreachable('The server cannot be reached.');
  }
  if (!isReadable(answer.response)) throw new Renewed('The server has been renewed, and this page is from before.');
  if (answer.response.ok) return answer.data as T;
  const problem = answer.error as Partial<Schemas['ProblemOut']> | undefined;
  if (answer.response.status >= 502) throw new Unreachable('The server cannot be reached.');
  throw new Refusal(
    answer.response.status,
    problem?.code ?? 'unknown',
    problem?.detail ?? 'The server could not do this. What you wrote is still here; try again.',
    problem?.theirs ?? null,
    problem?.offers,
    problem?.field ?? '',
  );
}

type PostPath = { [P in keyof paths]: paths[P] extends { post: object } ? P : never }[keyof paths];

/** Send a form with a file; what comes back is typed by the caller, as the description says. */
export async function upload<T>(way: PostPath, form: FormData, id?: number | null): Promise<T> {
  const done = begin(wordsFor('POST', way));
  const path = way.replace(/\{\w+\}/, String(id));
  const sent = fetch(path, { method: 'POST', body: form, headers: { 'X-CSRFToken': csrfToken() } }).then(async (response) => {
    const content = (await response.json().catch(() => undefined)) as unknown;
    return response.ok ? { data: content as T, response } : { error: content, response };
  });
  return get<T>(sent).finally(done);
}

export type BookState = Schemas['BookState'];
export type Analysis = Schemas['Analysis'];
export type Figure = Schemas['Figure'];
export type ColumnResult = Schemas['ColumnResult'];
export type Quantity = Schemas['Quantity'];
export type Setting = Schemas['Setting'];
export type Slip = Schemas['Slip'];
export type StageMark = Schemas['StageMark'];
export type StageName = StageMark['stage'];
export type RichText = Schemas['RichRun'][];
export type Edit = Schemas['EditIn']['edit'];
export type Working = Schemas['Working'];
export type Me = Schemas['Me'];
