// The apparatus on a bench: its drawing, what its instruments show, and what can be done to it, by hand or by keys.
import { Button } from 'antd';
import { type ReactNode, type RefObject, useEffect, useRef, useState } from 'react';
import { type Schemas, client } from '@/shared/api/client';
import { useBook } from '@/shared/book/context';
import { useRemembered } from '@/shared/ui/useRemembered';
import { Controls } from './Controls';
import { BuretteFace } from './BuretteFace';
import { FaceCard } from './FaceCard';
import { KEEP, RecordBar, useKeepRecord } from './RecordBar';
import { ScaleEntry } from './ScaleEntry';
import { ScaleFace, nearMarks } from './ScaleFace';
import { scenes } from './scenes';
import { useRig } from './useRig';
import { useWriteDown } from './useWriteDown';
import './rig.css';
import { withUnit } from '@/shared/ui/withUnit';

/** The key, with Alt, that leads from the table to the apparatus and back. */
const HERE = 'KeyB';
/** The key that says what is shown. */
const SAY = 'a';

export function Rig({ writes }: { writes: boolean }) {
  const { rig } = useBook(({ state }) => ({ rig: state.document.plan.rig.key }));
  // beside a table it is out until it is put away; beside a curve it waits until it is wanted
  const [turned, setTurned] = useRemembered(`rig ${rig} ${writes ? 'put away' : 'brought out'}`);
  const folded = writes === turned;
  const panel = useRef<HTMLElement>(null);
  const came = useRef<Element | null>(null);

  useEffect(() => {
    const press = (e: KeyboardEvent) => {
      if (!e.altKey || e.code !== HERE) return;
      e.preventDefault();
      if (panel.current?.contains(document.activeElement)) {
        if (came.current instanceof HTMLElement) came.current.focus();
      } else {
        came.current = document.activeElement;
        panel.current?.focus();
      }
    };
    window.addEventListener('keydown', press);
    return () => window.removeEventListener('keydown', press);
  }, []);

  return (
    <section className={`rig${folded ? ' folded' : ''}`} aria-label="Apparatus" ref={panel} tabIndex={-1}>
      {folded ? (
        <Head title="Apparatus" folded onFold={() => setTurned(!turned)} />
      ) : (
        <Bench key={rig} rig={rig} writes={writes} onFold={() => setTurned(!turned)} panel={panel} />
      )}
    </section>
  );
}

interface HeadProps {
  title: string;
  folded: boolean;
  onFold: () => void;
  children?: ReactNode;
}

function Head({ title, folded, onFold, children }: HeadProps) {
  return (
    <header className="rig-head">
      <h2>{title}</h2>
      {!folded && (
        <span className="quiet rig-keys">
          <kbd>Alt</kbd> <kbd>B</kbd> leads here and back; each letter is a key; <kbd>{SAY.toUpperCase()}</kbd> says what is shown
        </span>
      )}
      <span className="row rig-acts">
        {children}
        <Button size="small" type="text" aria-expanded={!folded} onClick={onFold}>
          {folded ? 'Bring it out' : 'Put it away'}
        </Button>
      </span>
    </header>
  );
}

interface BenchProps {
  rig: string;
  writes: boolean;
  onFold: () => void;
  panel: RefObject<HTMLElement | null>;
}

function Bench({ rig, writes, onFold, panel }: BenchProps) {
  const { id, canEdit, isOwn } = useBook(({ state }) => ({ id: state.id, canEdit: state.can_edit, isOwn: state.owner !== null && state.plan === null }));
  const { view, step, trouble, spoiled, asleep, busy, act, read, clear, wake, now, elapsed } = useRig(id, rig);
  const writeDown = useWriteDown(writes, view?.logs ?? false);
  const [said, setSaid] = useState('');
  const recording = useKeepRecord(now, setSaid);
  const record = view?.watched.record ?? null;
  const mayKeep = writes && canEdit;
  // what is read a moment later goes where writing goes on then
  const write = useRef<(face: string, text: string) => void>(() => undefined);
  const note = (face: string) => read(face, (text) => write.current(face, text));
  const readScale = (face: string, text: string) => {
    const { hand, acts, start } = now();
    setSaid(writeDown.write(face, text, true));
    panel.current?.focus();
    // how scales are read is nice to know and no loss to miss
    void client
      .POST('/api/books/{book_id}/rig/reading', { params: { path: { book_id: id } }, body: { hand, acts: [...acts], start, face, text } })
      .catch(() => undefined);
  };
  const shown = (face: string) => view?.watched.shown[face]?.[step] ?? '';
  const looks = view?.watched.looks;
  const controls = view?.watched.controls ?? [];
  const Scene = scenes[rig];

  const sayAll = () => {
    const faces = (view?.faces ?? []).map((face) => `${face.name} ${spoken(face, shown(face.id))}`);
    setSaid([...faces, ...(looks?.words ?? [])].join('. '));
  };
  const pressed = (control: Schemas['Control']) => {
    setSaid(control.hindered);
    if (!control.hindered) act(control.act, control.value);
  };

  const latest = useRef<(e: KeyboardEvent) => void>(() => undefined);
  useEffect(() => {
    write.current = (face, text) => setSaid(writeDown.write(face, text));
    latest.current = (e) => {
      if (e.altKey || e.ctrlKey || e.metaKey || e.repeat || e.target instanceof HTMLInputElement) return;
      const key = e.key.toLowerCase();
      const control = controls.find((c) => c.key === key);
      const face = view?.faces.find((f) => f.key === key);
      const keeps = key === KEEP && !control && record !== null && mayKeep;
      if (!control && !face && !keeps && key !== SAY) return;
      e.preventDefault();
      e.stopPropagation();
      wake();
      if (control) pressed(control);
      else if (keeps) recording.keep();
      else if (face?.kind === 'display' && writeDown.targetOf(face.id)) note(face.id);
      else if (face) setSaid(`${face.name} ${spoken(face, shown(face.id))}`);
      else sayAll();
    };
  });
  useEffect(() => {
    const here = panel.current;
    const press = (e: KeyboardEvent) => latest.current(e);
    here?.addEventListener('keydown', press);
    return () => here?.removeEventListener('keydown', press);
  }, [panel]);

  return (
    <>
      <Head title={view?.title ?? 'Apparatus'} folded={false} onFold={onFold}>
        <Button size="small" type="text" onClick={clear}>
          Clear the bench
        </Button>
      </Head>
      {trouble && (
        <p className="notice row" role="alert">
          {trouble}
          {spoiled && (
            <button type="button" className="notice-act" onClick={clear}>
              Clear the bench
            </button>
          )}
        </p>
      )}
      {view && (
        <div className="rig-bench" aria-busy={busy} onPointerDown={wake}>
          <div className={`rig-table${view.faces.some((face) => face.kind !== 'display' || writeDown.targetOf(face.id)) ? '' : ' reading'}`}>
            <div className="rig-drawn">
              {Scene && looks && <Scene scene={looks.scene} shown={shown} elapsed={elapsed} controls={controls} onPress={pressed} />}
              {record && <RecordBar record={record} elapsed={elapsed} busy={recording.busy} onKeep={mayKeep ? recording.keep : null} />}
            </div>
            <div className="rig-faces">
              {view.faces.map((face) =>
                face.kind !== 'display' ? (
                  <ScaleEntry key={face.id} face={face} target={writeDown.targetOf(face.id, true)} onRead={(text) => readScale(face.id, text)}>
                    {face.kind === 'burette' ? (
                      <BuretteFace face={face} at={Number(shown(face.id))} />
                    ) : (
                      <ScaleFace face={face} at={Number(shown(face.id))} body={looks?.scene['body'] ?? 'right'} />
                    )}
                  </ScaleEntry>
                ) : (
                  <FaceCard key={face.id} face={face} text={shown(face.id)} target={writeDown.targetOf(face.id)} onWrite={() => note(face.id)} />
                ),
              )}
            </div>
          </div>
          <Controls controls={controls} onPress={pressed} />
          {view.truth.length > 0 && (
            <details className="rig-truth">
              <summary>
                {isOwn
                  ? 'What is true on this bench, for when you have found it yourself'
                  : 'What is true on this bench (only teachers see this; what you do here is your own trial)'}
              </summary>
              <dl>
                {view.truth.map((line) => (
                  <div key={line.name}>
                    <dt>{line.name}</dt>
                    <dd className="mono">{line.text}</dd>
                  </div>
                ))}
              </dl>
            </details>
          )}
        </div>
      )}
      {asleep && (
        <button type="button" className="rig-asleep" onClick={wake}>
          The instruments have switched themselves off. Press here, or any of their keys, to switch them on.
        </button>
      )}
      <p className="hidden-but-heard" role="status">
        {said || looks?.words.join(' ')}
      </p>
    </>
  );
}

function spoken(face: Schemas['Face'], text: string): string {
  if (face.kind !== 'display') return nearMarks(face, Number(text));
  if (!text) return 'shows nothing yet';
  if (text === 'over') return 'is over its range';
  return `shows ${withUnit(text.replace('-', 'minus '), face.unit)}`;
}
