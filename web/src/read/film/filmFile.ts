// A film that the browser plays, frame by frame: stepped by the times that the file itself gives, never by a rate.
import { type Frames, FramesTrouble } from './frames';

const PATIENCE = 8000;
const CANNOT =
  'This browser cannot play this film. MP4 with H.264, and WebM, can be played nearly everywhere; HEVC, in which many telephones film, often cannot. Telephones can be told to film in the most compatible way.';

/** The time of every frame, in the order in which they are seen. */
async function readTimes(file: File): Promise<number[]> {
  const { ALL_FORMATS, BlobSource, EncodedPacketSink, Input } = await import('mediabunny');
  const input = new Input({ source: new BlobSource(file), formats: ALL_FORMATS });
  try {
    const track = await input.getPrimaryVideoTrack();
    if (!track) throw new FramesTrouble('There is no picture in this film.');
    const times: number[] = [];
    for await (const packet of new EncodedPacketSink(track).packets(undefined, undefined, { metadataOnly: true }))
      // what is over before the film begins is never seen
      if (packet.timestamp >= 0 || packet.timestamp + packet.duration > 0) times.push(packet.timestamp);
    return times.sort((a, b) => a - b);
  } finally {
    input.dispose();
  }
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

/** Seek, and say at what time of the film the frame stands that is presented then. */
function presentedAt(video: HTMLVideoElement, seconds: number): Promise<number> {
  return new Promise((done, fail) => {
    const timer = window.setTimeout(() => fail(new FramesTrouble('The browser does not show this frame. Take the next, or try again.')), PATIENCE);
    const end = (time: number) => {
      window.clearTimeout(timer);
      done(time);
    };
    // browsers that do not tell which frame they present are taken at their word
    const tells = typeof (video as Partial<HTMLVideoElement>).requestVideoFrameCallback === 'function';
    if (tells) video.requestVideoFrameCallback((_, { mediaTime }) => end(mediaTime));
    else video.addEventListener('seeked', () => requestAnimationFrame(() => requestAnimationFrame(() => end(NaN))), { once: true });
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
  const close = () => {
    video.removeAttribute('src');
    video.load();
    URL.revokeObjectURL(address);
  };
  try {
    await loaded(video);
    if (!video.videoWidth) throw new FramesTrouble(CANNOT);
    const times = await readTimes(file).catch((trouble: unknown) => {
      if (trouble instanceof FramesTrouble) throw trouble;
      throw new FramesTrouble('The times of the frames cannot be read from this file, and they are not guessed. Bring its frames in as pictures.');
    });
    if (!times.length) throw new FramesTrouble('There is no frame in this film.');
    let turn = Promise.resolve();
    let newest = 0;
    const seek = async (index: number) => {
      for (let tries = 0; tries < 3; tries++) {
        const mediaTime = await presentedAt(video, middleOf(times, index, video.duration));
        if (Number.isNaN(mediaTime) || isFrame(times, index, mediaTime)) return;
      }
      throw new FramesTrouble('The browser shows another frame than this one. Take the next, or try again.');
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
        // what a quicker step has overtaken is not looked for
        const sought = turn.then(() => (newest === index ? seek(index) : undefined));
        turn = sought.catch(() => undefined);
        return sought.then(() => video);
      },
      close,
    };
  } catch (trouble) {
    close();
    throw trouble;
  }
}
