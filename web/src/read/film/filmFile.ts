// A film that the browser plays, frame by frame: stepped by the times that the file itself gives, never by a rate.
import { type Frames, FramesTrouble } from './frames';

/** Milliseconds that a frame is waited for, and after which none comes any more once it has been sought. */
const PATIENCE = 8000;
const GRACE = 400;
/** Milliseconds of a step after which frames are decoded one behind the other, and how far on that is quicker than to begin anew. */
const SLOW = 250;
const NEAR = 30;
/** Browsers decode only for pages that came over a secure line. */
const DECODES = 'VideoDecoder' in globalThis;
const NO_TIMES = 'The times of the frames cannot be read from this file, and they are not guessed. Bring its frames in as pictures.';
const CANNOT =
  'This browser cannot play this film. MP4 with H.264, and WebM, can be played nearly everywhere; HEVC, in which many telephones film, often cannot. Telephones can be told to film in the most compatible way.';

/** The file as it is written: the time of every frame, in the order in which they are seen, and any of them taken out of it. */
interface Read {
  times: number[];
  /** The film begins within a frame, as one that has been trimmed: browsers leave that frame out, and count from the next. */
  trimmed: boolean;
  decode: (index: number) => Promise<CanvasImageSource>;
  close: () => void;
}

async function readFile(file: File): Promise<Read> {
  const { ALL_FORMATS, BlobSource, EncodedPacketSink, Input, VideoSampleSink } = await import('mediabunny');
  const input = new Input({ source: new BlobSource(file), formats: ALL_FORMATS });
  try {
    const track = await input.getPrimaryVideoTrack();
    if (!track) throw new FramesTrouble('There is no picture in this film.');
    const written: number[] = [];
    for await (const packet of new EncodedPacketSink(track).packets(undefined, undefined, { metadataOnly: true }))
      // what is over before the film begins is never seen
      if (packet.timestamp >= 0 || packet.timestamp + packet.duration > 0) written.push(packet.timestamp);
    const { times, begin, trimmed } = fromTheFirst(written, DECODES);
    const sink = new VideoSampleSink(track);
    // where the last frame was taken from, for the next is right behind it
    let behind: { index: number; frames: ReturnType<typeof sink.samples> } | null = null;
    let drawn: ImageBitmap | null = null;
    const decode = async (index: number) => {
      if (!DECODES) throw new FramesTrouble('The browser does not show this frame. Take the next.');
      if (behind && (index <= behind.index || index > behind.index + NEAR)) {
        await behind.frames.return(undefined);
        behind = null;
      }
      const frames = behind?.frames ?? sink.samples((times[index] ?? 0) + begin + 1e-6);
      behind = null;
      for (let step = await frames.next(); !step.done; step = await frames.next()) {
        const sample = step.value;
        const found = isFrame(times, index, sample.timestamp - begin);
        const next = found ? await createImageBitmap(sample.toCanvasImageSource()) : null;
        sample.close();
        if (!next) continue;
        // the one before has been drawn
        drawn?.close();
        drawn = next;
        behind = { index, frames };
        return next;
      }
      throw new FramesTrouble('The browser does not show this frame. Take the next.');
    };
    return { times, trimmed, decode, close: () => input.dispose() };
  } catch (trouble) {
    input.dispose();
    throw trouble;
  }
}

/** The times of the frames, and when in the file's own time they begin: 0, but for a film that begins within a frame. Browsers leave that
 *  one out and count from the next, so that it is seen only where frames can be taken out of the file.
 */
export function fromTheFirst(written: readonly number[], canDecode: boolean): { times: number[]; begin: number; trimmed: boolean } {
  const ordered = [...written].sort((a, b) => a - b);
  const trimmed = (ordered[0] ?? 0) < 0;
  const seen = trimmed && !canDecode ? ordered.filter((time) => time >= 0) : ordered;
  const begin = trimmed ? (seen[0] ?? 0) : 0;
  return { times: seen.map((time) => time - begin), begin, trimmed };
}

/** The middle of a frame, where no rounding leads to a neighbour. */
export function middleOf(times: readonly number[], index: number, end: number): number {
  const from = times[index] ?? 0;
  const next = times[index + 1] ?? end;
  const before = times[index - 1];
  // the last frame lasts as long as the one before, where the end of the film does not say
  const until = next > from ? next : from + (before === undefined ? 0.04 : from - before);
  return (from + until) / 2;
}

/** Whether what is presented at a media time is this frame. */
export function isFrame(times: readonly number[], index: number, mediaTime: number): boolean {
  const at = times[index] ?? 0;
  const gap = Math.min(at - (times[index - 1] ?? -Infinity), (times[index + 1] ?? Infinity) - at);
  return Math.abs(mediaTime - at) <= Math.min(gap / 2, 0.5);
}

function loaded(video: HTMLVideoElement): Promise<void> {
  return new Promise((done, fail) => {
    video.addEventListener('loadeddata', () => done(), { once: true });
    video.addEventListener('error', () => fail(new FramesTrouble(CANNOT)), { once: true });
  });
}

/** Seek, and say whether the frame is presented that is wanted, as its time in the film tells. */
function present(video: HTMLVideoElement, seconds: number, isWanted: (mediaTime: number) => boolean): Promise<boolean> {
  return new Promise((done) => {
    let open = true;
    const end = (found: boolean) => {
      open = false;
      done(found);
    };
    // on the way to a frame others may be presented
    const look = () =>
      video.requestVideoFrameCallback((_, { mediaTime }) => {
        if (!open) return;
        if (isWanted(mediaTime)) end(true);
        else look();
      });
    const tells = typeof (video as Partial<HTMLVideoElement>).requestVideoFrameCallback === 'function';
    if (tells) look();
    window.setTimeout(() => end(false), PATIENCE);
    // browsers that do not tell which frame they present are taken at their word
    video.addEventListener('seeked', () => window.setTimeout(() => end(!tells), tells ? GRACE : 60), { once: true });
    video.currentTime = seconds;
  });
}

export async function openFilm(file: File): Promise<Frames> {
  const address = URL.createObjectURL(file);
  const video = document.createElement('video');
  video.muted = true;
  video.playsInline = true;
  video.preload = 'auto';
  video.src = address;
  const parts: (() => void)[] = [];
  const close = () => {
    for (const part of parts) part();
    video.removeAttribute('src');
    video.load();
    URL.revokeObjectURL(address);
  };
  try {
    await loaded(video);
    if (!video.videoWidth) throw new FramesTrouble(CANNOT);
    const read = await readFile(file).catch((trouble: unknown) => {
      throw trouble instanceof FramesTrouble ? trouble : new FramesTrouble(NO_TIMES);
    });
    const { times, trimmed, decode } = read;
    parts.push(read.close);
    if (!times.length) throw new FramesTrouble(NO_TIMES);
    let turn: Promise<unknown> = Promise.resolve();
    let newest = 0;
    let presented = -1;
    let slow = false;
    const seek = async (index: number): Promise<CanvasImageSource> => {
      // what a quicker step has overtaken is not looked for
      if (presented === index || newest !== index) return video;
      presented = -1;
      // where key frames lie far apart, frames are taken out one behind the other; of a trimmed film browser and file count otherwise
      if ((slow || trimmed) && DECODES) return decode(index);
      const began = performance.now();
      const found = await present(video, middleOf(times, index, video.duration), (mediaTime) => isFrame(times, index, mediaTime));
      slow = performance.now() - began > SLOW;
      if (!found) return decode(index);
      presented = index;
      return video;
    };
    return {
      name: file.name,
      size: file.size,
      width: video.videoWidth,
      height: video.videoHeight,
      count: times.length,
      times,
      show: (index) => {
        newest = index;
        const sought = turn.then(() => seek(index));
        turn = sought.catch(() => undefined);
        return sought;
      },
      close,
    };
  } catch (trouble) {
    close();
    throw trouble;
  }
}
