// The film that Hobrel draws, of a motion that is known: a lead bead and a paper cone in front of a hanging rule.
import type { Schemas } from '@/shared/api/client';
import type { Frames } from './frames';

type DrawnFilm = Schemas['DrawnFilm'];

const MARKS = 10;
// as a camera sees it, whatever the page's colours are
const WALL = '#EFE7DA';
const INK = '#2B2233';
const PAPER = '#FFFFFF';
const RULE = '#E3B23C';
const FILLS = [INK, PAPER];

function drawFrame(pen: CanvasRenderingContext2D, film: DrawnFilm, index: number): void {
  pen.fillStyle = WALL;
  pen.fillRect(0, 0, film.width, film.height);
  pen.strokeStyle = INK;
  pen.lineWidth = 2;
  pen.beginPath();
  pen.moveTo(film.floor.ax, film.floor.ay);
  pen.lineTo(film.floor.bx, film.floor.by);
  pen.stroke();
  const { ax, ay, bx, by } = film.rule;
  const length = Math.hypot(bx - ax, by - ay);
  pen.save();
  pen.translate(ax, ay);
  pen.rotate(Math.atan2(by - ay, bx - ax) - Math.PI / 2);
  pen.fillStyle = RULE;
  pen.fillRect(0, 0, 16, length);
  pen.lineWidth = 1;
  pen.strokeRect(0, 0, 16, length);
  for (let i = 1; i < MARKS; i++) {
    pen.beginPath();
    pen.moveTo(0, (i * length) / MARKS);
    pen.lineTo(i === MARKS / 2 ? 12 : 8, (i * length) / MARKS);
    pen.stroke();
  }
  pen.fillStyle = INK;
  pen.font = '600 15px sans-serif';
  pen.fillText(`${Number(film.rule_length)} m`, -8, length + 20);
  pen.restore();
  film.bodies.forEach((body, i) => {
    pen.beginPath();
    pen.arc(body.x[index] ?? 0, body.y[index] ?? 0, body.radius, 0, 2 * Math.PI);
    pen.fillStyle = FILLS[i % FILLS.length] ?? INK;
    pen.fill();
    pen.stroke();
  });
}

/** Its frames, drawn as they are asked for. */
export function openDrawn(film: DrawnFilm): Frames {
  const canvas = document.createElement('canvas');
  canvas.width = film.width;
  canvas.height = film.height;
  const pen = canvas.getContext('2d');
  return {
    name: 'A bead and a cone',
    size: 0,
    width: film.width,
    height: film.height,
    count: film.times.length,
    times: film.times,
    show: (index) => {
      if (pen) drawFrame(pen, film, index);
      return Promise.resolve(canvas);
    },
    close: () => undefined,
    write: () => writeFilm(film),
  };
}

/** The same as a film file, so that it can be given to others and brought in like any. */
async function writeFilm(film: DrawnFilm): Promise<Blob> {
  const { BufferTarget, CanvasSource, Output, QUALITY_HIGH, WebMOutputFormat } = await import('mediabunny');
  const canvas = document.createElement('canvas');
  canvas.width = film.width;
  canvas.height = film.height;
  const pen = canvas.getContext('2d');
  const target = new BufferTarget();
  const output = new Output({ format: new WebMOutputFormat(), target });
  const source = new CanvasSource(canvas, { codec: 'vp8', quality: QUALITY_HIGH, keyFrameInterval: 0.5 });
  output.addVideoTrack(source);
  await output.start();
  for (const [i, time] of film.times.entries()) {
    if (pen) drawFrame(pen, film, i);
    await source.add(time, (film.times[i + 1] ?? time + 0.02) - time);
  }
  await output.finalize();
  return new Blob([target.buffer ?? new ArrayBuffer()], { type: 'video/webm' });
}
