// A graph that can be played as motion where it is over time.
import { type ComponentProps, useMemo, useState } from 'react';
import type { Schemas } from '@/shared/api/client';
import { isBeingPlaced } from '@/shared/book/choices';
import { useBook } from '@/shared/book/context';
import { unitIn } from '@/shared/book/quantities';
import { Graph } from './Graph';
import { Motion } from './Motion';
import { pathsOf, secondsIn, spanOf } from './motion';

interface Props extends ComponentProps<typeof Graph> {
  /** What is drawn, as the lab book has it. */
  of: Schemas['Graph'];
}

export function PlayedGraph({ of, figure, ...graph }: Props) {
  const { analysis, quantities, placing } = useBook(({ analysis, quantities, waiting }) => ({
    analysis,
    quantities,
    placing: isBeingPlaced(of.id, waiting),
  }));
  const [at, setAt] = useState<number | null>(null);
  const paths = useMemo(() => pathsOf(figure), [figure]);
  const seconds = figure.x_axis.named ? null : secondsIn(unitIn(analysis, of.x));
  const plays = seconds !== null && paths.length > 0;
  const shown = plays ? at : null;
  return (
    <div className={shown === null ? undefined : 'with-motion'}>
      <Graph
        {...graph}
        figure={figure}
        isBeingPlaced={placing}
        spot={shown === null ? graph.spot : { x: shown, y: 0 }}
        onPlay={plays ? () => setAt(at === null ? spanOf(paths)[0] : null) : undefined}
        isPlayed={shown !== null}
      />
      {shown !== null && seconds !== null && (
        <Motion
          figure={figure}
          paths={paths}
          seconds={seconds}
          unit={unitIn(analysis, of.y)}
          name={quantities.find((q) => q.id === of.y)?.name ?? ''}
          height={Math.min(graph.height ?? 400, 360)}
          at={shown}
          onAt={setAt}
        />
      )}
    </div>
  );
}
