// Pictures on their way to the server: made smaller here, made anew there, and named by an edit once they are kept.
import { type Schemas, upload } from '@/shared/api/client';
import { newId } from '@/shared/book/newId';

export type Picture = Schemas['Picture'];
const LONGEST_SIDE = 2000;
const SMALL_ENOUGH = 1_000_000;

/** A photograph as large as it is looked at; what cannot be drawn here is left to the server to refuse. */
async function makeSmaller(file: File): Promise<Blob> {
  if (file.size <= SMALL_ENOUGH) return file;
  const bitmap = await createImageBitmap(file, { imageOrientation: 'from-image' }).catch(() => null);
  if (!bitmap) return file;
  const scale = Math.min(1, LONGEST_SIDE / Math.max(bitmap.width, bitmap.height));
  const canvas = document.createElement('canvas');
  canvas.width = Math.round(bitmap.width * scale);
  canvas.height = Math.round(bitmap.height * scale);
  const pen = canvas.getContext('2d');
  if (!pen) return file;
  pen.fillStyle = 'white';
  pen.fillRect(0, 0, canvas.width, canvas.height);
  pen.drawImage(bitmap, 0, 0, canvas.width, canvas.height);
  bitmap.close();
  return new Promise((done) => canvas.toBlob((blob) => done(blob ?? file), 'image/jpeg', 0.9));
}

/** Have pictures kept; what is no picture is left out, and nothing but that is an error. */
export async function sendPictures(
  files: readonly File[],
  way: '/api/plans/{plan_id}/pictures' | '/api/books/{book_id}/pictures',
  id: number | null,
): Promise<Picture[]> {
  const chosen = files.filter((f) => f.type.startsWith('image/'));
  if (!chosen.length) throw new Error('This is no picture. JPEG, PNG and WEBP can be shown.');
  const added: Picture[] = [];
  for (const file of chosen) {
    const form = new FormData();
    form.append('file', await makeSmaller(file), 'picture');
    const kept = await upload<Schemas['PictureOut']>(way, form, id);
    added.push({ id: newId('pic'), alt: '', caption: '', data: '', ...kept });
  }
  return added;
}
