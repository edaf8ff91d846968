// A frame with what was pointed at on it: pointed at by a press, or by keys to a tenth of a pixel.
import { type ComponentProps, type KeyboardEvent, type PointerEvent, type RefObject, useEffect, useRef, useState } from 'react';
import { useWidth } from '@/shared/graph/useWidth';
import { Overlay } from './overlay';
import type { Frames } from './frames';
import { type Place, type Work, snapTo } from './marks';

/** Pixels of the screen that a frame is high at most, and how much larger than itself a small one is drawn. */
const HIGHEST = 440;
const LARGEST = 2;

interface Props {
  frames: Frames;
  index: number;
  work: Work;
  turn: number;
  at: Place;
  model: ComponentProps<typeof Overlay>['model'];
  /** How it is called for who does not see it. */
  label: string;
  canvas: RefObject<HTMLCanvasElement | null>;
  onShown: (index: number) => void;
  onTrouble: (words: string) => void;
  onAim: (place: Place | null) => void;
  onMove: (place: Place) => void;
  onPoint: (place: Place) => void;
  onKey: (e: KeyboardEvent) => void;
}

export function FrameView({ frames, index, work, turn, at, model, label, canvas, onShown, onTrouble, onAim, onMove, onPoint, onKey }: Props) {
  const { width, height } = frames;
  const [place, seen] = useWidth<HTMLDivElement>(width);
  const [shown, setShown] = useState(-1);
  const waits = shown !== index;
  const told = useRef({ onShown, onTrouble });
  useEffect(() => {
    told.current = { onShown, onTrouble };
  });
  useEffect(() => {
    let gone = false;
    frames.show(index).then(
      (drawn) => {
        if (gone) return;
        canvas.current?.getContext('2d')?.drawImage(drawn, 0, 0, width, height);
        setShown(index);
        told.current.onShown(index);
        told.current.onTrouble('');
      },
      (trouble: unknown) => {
        if (gone) return;
        // no other frame stands in its place
        canvas.current?.getContext('2d')?.clearRect(0, 0, width, height);
        setShown(index);
        told.current.onTrouble(trouble instanceof Error ? trouble.message : '');
      },
    );
    return () => {
      gone = true;
    };
  }, [canvas, frames, height, index, width]);
  const scale = width / seen;
  const placeOf = (e: PointerEvent<HTMLDivElement>) => {
    const box = e.currentTarget.getBoundingClientRect();
    return snapTo({ x: ((e.clientX - box.left) * width) / box.width, y: ((e.clientY - box.top) * height) / box.height }, width, height);
  };
  return (
    <div
      ref={place}
      className="film-frame"
      style={{ maxWidth: Math.min((HIGHEST * width) / height, width * LARGEST) }}
      role="application"
      aria-label={label}
      aria-busy={waits}
      tabIndex={0}
      onKeyDown={onKey}
      onPointerMove={(e) => (e.pointerType === 'mouse' ? onAim(placeOf(e)) : e.buttons ? onMove(placeOf(e)) : undefined)}
      onPointerLeave={() => onAim(null)}
      onPointerDown={(e) => {
        if (e.button !== 0) return;
        // a finger hides what it is on: it brings the cross there, and the button marks
        if (e.pointerType === 'mouse') onPoint(placeOf(e));
        else onMove(placeOf(e));
      }}
    >
      <canvas ref={canvas} width={width} height={height} />
      <svg viewBox={`0 0 ${width} ${height}`} aria-hidden="true">
        <Overlay work={work} width={width} height={height} scale={scale} frame={index} turn={turn} at={at} model={model} />
      </svg>
      {waits && <span className="film-waits">{frames.times ? 'Looking for this frame' : 'Opening this picture'}</span>}
    </div>
  );
}
