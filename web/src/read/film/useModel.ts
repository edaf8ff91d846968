// What is fitted over time, laid over the film: the same scale and axes lead from lengths back to pixels.
import { useState } from 'react';
import { useBook } from '@/shared/book/context';
import { unitIn } from '@/shared/book/quantities';
import { type Path, pathsOf, placeOn, secondsIn } from '@/shared/graph/motion';
import { readNumber } from '@/shared/ui/readNumber';
import { type Place, type Work, directionsOf } from './marks';
import type { MarksView } from './useWork';

export interface Model {
  graph: string;
  label: string;
  /** Seconds in its unit of time. */
  seconds: number;
  path: Path;
}

export interface LaidOver {
  models: Model[];
  /** Graphs whose models go along x and along y; empty for none. */
  along: { x: string; y: string };
  onAlong: (along: { x: string; y: string }) => void;
  /** Where it is at a frame, and where it goes; null where nothing is laid over it. */
  at: (frame: number) => { way: Place[]; now: Place | null } | null;
}

/** A place on the film, from lengths along the axes. */
export function onFilm(work: Work, perPixel: number, x: number, y: number): Place {
  const origin = work.origin ?? { x: 0, y: 0 };
  const ways = directionsOf(work);
  const [right, up] = [x / perPixel, y / perPixel];
  return { x: origin.x + right * ways.x.x + up * ways.y.x, y: origin.y + right * ways.x.y + up * ways.y.y };
}

/** Seconds of every frame: as they were typed, else as the film has them. */
function secondsOf(work: Work, times: readonly number[] | null): readonly number[] | null {
  const every = readNumber(work.every);
  return every === null ? times : Array.from({ length: work.count }, (_, i) => i * every);
}

export function useModel(work: Work, view: MarksView | null, filmed: readonly number[] | null): LaidOver {
  const times = secondsOf(work, filmed);
  const { analysis, graphs, plainSymbolOf } = useBook(({ analysis, graphs, plainSymbolOf }) => ({ analysis, graphs, plainSymbolOf }));
  const [along, setAlong] = useState({ x: '', y: '' });
  const models = graphs.flatMap((graph): Model[] => {
    const figure = analysis.graphs.find((g) => g.graph === graph.id)?.figure;
    const seconds = secondsIn(unitIn(analysis, graph.x));
    const path = figure && pathsOf(figure).find((p) => p.look === null);
    if (!path || seconds === null || unitIn(analysis, graph.y) !== view?.unit) return [];
    return [{ graph: graph.id, label: `${plainSymbolOf(graph.y)} against ${plainSymbolOf(graph.x)}`, seconds, path }];
  });
  const of = (graph: string) => models.find((m) => m.graph === graph);
  const [x, y] = [of(along.x), of(along.y)];
  const at = (frame: number) => {
    const per = view?.per_pixel ?? null;
    if ((!x && !y) || per === null || !times) return null;
    const from = times[work.start] ?? 0;
    const placeAt = (seconds: number) => {
      const reach = (model: Model | undefined) => (model ? placeOn(model.path, seconds / model.seconds) : 0);
      const [right, up] = [reach(x), reach(y)];
      return right === null || up === null ? null : onFilm(work, per, right, up);
    };
    return { way: times.flatMap((time) => placeAt(time - from) ?? []), now: placeAt((times[frame] ?? 0) - from) };
  };
  return { models, along, onAlong: setAlong, at };
}
