// What of something written differs from what stood there, piece by piece: things in a list are called by their ids, as on the server.

export interface Difference {
  path: readonly string[];
  /** Undefined where it has been taken away. */
  becomes: unknown;
}

type Fields = Record<string, unknown>;

const isFields = (value: unknown): value is Fields => typeof value === 'object' && value !== null && !Array.isArray(value);
const isNamed = (value: unknown): value is { id: string }[] =>
  Array.isArray(value) && value.every((item: unknown) => isFields(item) && typeof item.id === 'string');
const byId = (items: readonly { id: string }[]): Fields => Object.fromEntries(items.map((item) => [item.id, item]));

/** The parts of a thing by name, or null where it is one piece. */
function partsOf(value: unknown): Fields | null {
  if (isFields(value)) return value;
  return isNamed(value) ? byId(value) : null;
}

export function findDifferences(was: unknown, becomes: unknown, path: readonly string[] = []): Difference[] {
  if (JSON.stringify(was) === JSON.stringify(becomes)) return [];
  const [before, after] = [partsOf(was), partsOf(becomes)];
  if (!before || !after || Array.isArray(was) !== Array.isArray(becomes)) return [{ path, becomes }];
  const names = [...new Set([...Object.keys(before), ...Object.keys(after)])];
  return names.flatMap((name) => findDifferences(before[name], after[name], [...path, name]));
}

/** What stands at a place; undefined where there is none. */
export function lookAt(value: unknown, path: readonly string[]): unknown {
  return path.reduce<unknown>((at, name) => partsOf(at)?.[name], value);
}

/** What stands there now, with the differences made in it and all else left. */
export function makeDifferences(now: unknown, differences: readonly Difference[]): unknown {
  return differences.reduce((value, { path, becomes }) => put(value, path, becomes), now);
}

function put(value: unknown, path: readonly string[], becomes: unknown): unknown {
  const [name, ...rest] = path;
  if (name === undefined) return becomes;
  const parts = { ...partsOf(value) };
  const part = put(parts[name], rest, becomes);
  if (part === undefined) Reflect.deleteProperty(parts, name);
  else parts[name] = part;
  return isNamed(value) ? Object.values(parts) : parts;
}
