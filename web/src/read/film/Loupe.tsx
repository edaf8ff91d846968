// The frame around the cross, large enough to point to a tenth of a pixel.
import { type RefObject, useEffect, useRef } from 'react';
import type { Place } from './marks';
import { INK, LIGHT } from './overlay';

const SIZE = 176;
const ZOOM = 8;

interface Props {
  canvas: RefObject<HTMLCanvasElement | null>;
  at: Place;
  /** Changes when another frame is drawn. */
  drawn: string;
  /** What is under the glass is dragged: the cross moves the other way, in pixels. */
  onDrag: (by: readonly [number, number]) => void;
}

export function Loupe({ canvas, at, drawn, onDrag }: Props) {
  const glass = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const pen = glass.current?.getContext('2d');
    const film = canvas.current;
    if (!pen || !film) return;
    pen.fillStyle = INK;
    pen.fillRect(0, 0, SIZE, SIZE);
    pen.imageSmoothingEnabled = false;
    const middle = SIZE / 2;
    pen.drawImage(film, middle - at.x * ZOOM, middle - at.y * ZOOM, film.width * ZOOM, film.height * ZOOM);
    for (const [colour, width] of [
      [LIGHT, 3],
      [INK, 1],
    ] as const) {
      pen.strokeStyle = colour;
      pen.lineWidth = width;
      pen.beginPath();
      for (const [x, y] of [
        [1, 0],
        [-1, 0],
        [0, 1],
        [0, -1],
      ] as const) {
        pen.moveTo(middle + 6 * x, middle + 6 * y);
        pen.lineTo(middle + middle * x, middle + middle * y);
      }
      pen.stroke();
    }
  }, [at.x, at.y, canvas, drawn]);
  return (
    <canvas
      ref={glass}
      className="film-loupe"
      width={SIZE}
      height={SIZE}
      aria-hidden="true"
      onPointerDown={(e) => e.currentTarget.setPointerCapture(e.pointerId)}
      onPointerMove={(e) => {
        const shown = (e.currentTarget.clientWidth * ZOOM) / SIZE;
        if (e.buttons) onDrag([-e.movementX / shown, -e.movementY / shown]);
      }}
    />
  );
}
