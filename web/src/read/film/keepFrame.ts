// A frame with its marks as one picture: what is seen on the screen, and nothing else of the film.
import { FramesTrouble } from './frames';

/** The drawing over a frame as a picture; it is made of attributes alone. */
function readDrawing(drawing: SVGSVGElement, width: number, height: number): Promise<HTMLImageElement> {
  const copy = drawing.cloneNode(true) as SVGSVGElement;
  copy.setAttribute('xmlns', 'http://www.w3.org/2000/svg');
  copy.setAttribute('width', String(width));
  copy.setAttribute('height', String(height));
  const address = URL.createObjectURL(new Blob([new XMLSerializer().serializeToString(copy)], { type: 'image/svg+xml' }));
  const image = new Image();
  return new Promise<HTMLImageElement>((done, fail) => {
    image.onload = () => done(image);
    image.onerror = () => fail(new FramesTrouble('The marks cannot be drawn on this frame.'));
    image.src = address;
  }).finally(() => URL.revokeObjectURL(address));
}

export async function drawKept(frame: HTMLCanvasElement, drawing: SVGSVGElement): Promise<File> {
  const canvas = document.createElement('canvas');
  canvas.width = frame.width;
  canvas.height = frame.height;
  const pen = canvas.getContext('2d');
  if (!pen) throw new FramesTrouble('This device cannot draw the frame.');
  pen.drawImage(frame, 0, 0);
  pen.drawImage(await readDrawing(drawing, frame.width, frame.height), 0, 0, frame.width, frame.height);
  const blob = await new Promise<Blob | null>((done) => canvas.toBlob(done, 'image/png'));
  if (!blob) throw new FramesTrouble('This device cannot draw the frame.');
  return new File([blob], 'frame.png', { type: 'image/png' });
}
