// What is measured on: frames that are drawn one at a time, from a film, from pictures, or by Hobrel. They stay on this device (decision 50).

export interface Frames {
  /** What it is called; with its size it is told from another. */
  name: string;
  size: number;
  width: number;
  height: number;
  count: number;
  /** Seconds, as the film has them; null where there are none, as on pictures. */
  times: readonly number[] | null;
  /** A frame that can be drawn, once it is there and no other. */
  show: (index: number) => Promise<CanvasImageSource>;
  close: () => void;
  /** As a file that can be given to others, where it is not one already. */
  write?: () => Promise<Blob>;
}

/** Something that is said to who has chosen it. */
export class FramesTrouble extends Error {}

/** By name as people number them: 2 comes before 10. */
export function inOrder(files: readonly File[]): File[] {
  const collator = new Intl.Collator(undefined, { numeric: true });
  return [...files].sort((a, b) => collator.compare(a.name, b.name));
}

const NO_PICTURES = 'These are no pictures that this browser can show. JPEG, PNG and WEBP can be.';

/** Pictures, one a frame, each as large as the first. */
export async function openPictures(files: readonly File[]): Promise<Frames> {
  const ordered = inOrder(files);
  const [first] = ordered;
  if (!first) throw new FramesTrouble(NO_PICTURES);
  const load = (file: File) =>
    createImageBitmap(file, { imageOrientation: 'from-image' }).catch(() => {
      throw new FramesTrouble(ordered.length > 1 ? `${file.name} is no picture that this browser can show.` : NO_PICTURES);
    });
  const { width, height } = await load(first);
  let shown: ImageBitmap | null = null;
  return {
    name: ordered.length > 1 ? `${first.name} and ${ordered.length - 1} more` : first.name,
    size: ordered.reduce((sum, file) => sum + file.size, 0),
    width,
    height,
    count: ordered.length,
    times: null,
    show: async (index) => {
      const next = await load(ordered[index] ?? first);
      shown?.close();
      shown = next;
      if (next.width !== width || next.height !== height)
        throw new FramesTrouble(
          `${ordered[index]?.name ?? ''} is ${next.width} × ${next.height} pixels, the first is ${width} × ${height}: one scale does not fit both.`,
        );
      return next;
    },
    close: () => shown?.close(),
  };
}
