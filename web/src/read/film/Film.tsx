// Measuring on a picture or a film: chosen on this device, where it stays.
import { Button } from 'antd';
import { useEffect, useRef, useState } from 'react';
import { client, get } from '@/shared/api/client';
import { useMe } from '@/shared/api/session';
import { useBook } from '@/shared/book/context';
import { FileButton } from '@/shared/ui/FileButton';
import { TroubleWords } from '@/shared/ui/TroubleWords';
import { Bench } from './Bench';
import { openDrawn } from './drawnFilm';
import { openFilm } from './filmFile';
import { type Frames, openPictures } from './frames';
import { useLeftWork } from './useWork';
import './film.css';

/** Have the browser keep a file where it keeps all that is taken out. */
function handOver(content: Blob, name: string): void {
  const link = document.createElement('a');
  link.href = URL.createObjectURL(content);
  link.download = name;
  link.click();
  window.setTimeout(() => URL.revokeObjectURL(link.href), 60_000);
}

// by person and lab book, so that it is still there after a look at another station
const onTheBench = new Map<string, Frames>();

export function Film({ onPutAway }: { onPutAway: () => void }) {
  const { book } = useBook(({ state }) => ({ book: state.id }));
  const me = useMe();
  const here = `${me.id} ${book}`;
  const [frames, setFrames] = useState(onTheBench.get(here) ?? null);
  const [opening, setOpening] = useState(false);
  const [trouble, setTrouble] = useState('');
  const left = useLeftWork();
  const place = useRef<HTMLElement>(null);
  useEffect(() => place.current?.focus(), []);
  const lay = (next: Frames | null) => {
    onTheBench.get(here)?.close();
    if (next) onTheBench.set(here, next);
    else onTheBench.delete(here);
    setFrames(next);
  };
  const open = (opened: Promise<Frames>) => {
    setTrouble('');
    setOpening(true);
    opened
      .then(lay)
      .catch((e: unknown) => setTrouble(e instanceof Error ? e.message : ''))
      .finally(() => setOpening(false));
  };
  const take = (files: File[]) => {
    const [first] = files;
    if (first) open(first.type.startsWith('image/') ? openPictures(files) : openFilm(first));
  };
  const draw = async () => openDrawn(await get(client.GET('/api/books/{book_id}/drawn-film', { params: { path: { book_id: book } } })));
  const writeOut = (drawn: Frames) => {
    setOpening(true);
    void drawn
      .write?.()
      .then((film) => handOver(film, `${drawn.name}.webm`))
      .catch((e: unknown) => setTrouble(e instanceof Error ? e.message : ''))
      .finally(() => setOpening(false));
  };
  return (
    <section
      className="film"
      aria-label="Measuring on a picture or a film"
      ref={place}
      tabIndex={-1}
      onDragOver={(e) => e.preventDefault()}
      onDrop={(e) => {
        e.preventDefault();
        take([...e.dataTransfer.files]);
      }}
    >
      <header className="film-head">
        <h2>{frames ? frames.name : 'Measure on a picture or a film'}</h2>
        <span className="row film-acts">
          {frames?.write && 'VideoEncoder' in window && (
            <Button size="small" type="text" loading={opening} onClick={() => writeOut(frames)}>
              Take it out as a file
            </Button>
          )}
          {frames && (
            <Button size="small" type="text" onClick={() => lay(null)}>
              Another one
            </Button>
          )}
          <Button size="small" type="text" onClick={onPutAway}>
            Put it away
          </Button>
        </span>
      </header>
      <TroubleWords>{trouble}</TroubleWords>
      {frames ? (
        <Bench key={`${frames.name} ${frames.size} ${frames.count}`} frames={frames} />
      ) : (
        <div className="film-start">
          <p>
            Choose one on this device, or drop it here. It stays on this device: only places that you point at are sent, and a frame that you keep for your
            report.
          </p>
          {left && (
            <p className="notice">
              There are {left.marks.length || 'first'} marks on <b>{left.name}</b> on this device. Choose it again to go on; marks on another one take their
              place.
            </p>
          )}
          <div className="row">
            <FileButton label="A film on this device" accept="video/*" loading={opening} onFile={(file) => open(openFilm(file))}>
              A film
            </FileButton>
            <FileButton label="Pictures on this device" accept="image/*" onFiles={(files) => open(openPictures(files))}>
              Pictures
            </FileButton>
            <Button onClick={() => open(draw())}>A film to practise on</Button>
          </div>
          <p className="quiet">To practise on: a lead bead and a paper cone are let go in front of a rule of 1.000 ± 0.001 m, 50 frames a second.</p>
        </div>
      )}
    </section>
  );
}
