// The blocks of a report, as all its files have them.
import { useQuery } from '@tanstack/react-query';
import { Button } from 'antd';
import { type ReactNode, useEffect, useRef, useState } from 'react';
import type { Schemas } from '@/shared/api/client';
import { useBook } from '@/shared/book/context';
import { Maths } from '@/shared/ui/Maths';
import { pictureAddress } from '@/shared/ui/Pictures';
import { copyTable } from './copyTable';

export type Part = Schemas['Part'];
type Block = Part['blocks'][number];
type Inline = Schemas['Words'] | Schemas['Maths'] | Schemas['Pointer'];

export function Blocks({ blocks }: { blocks: readonly Block[] }) {
  return blocks.map((block, i) => <OneBlock key={i} block={block} />);
}

function OneBlock({ block }: { block: Block }) {
  switch (block.kind) {
    case 'heading':
      return (
        <h3>
          <Line words={block.words} />
        </h3>
      );
    case 'paragraph':
      return (
        <p className={block.role === 'plain' ? undefined : block.role === 'note' ? 'notice' : 'quiet'}>
          <Line words={block.words} />
        </p>
      );
    case 'items': {
      const items = block.items.map((item, i) => (
        <li key={i}>
          <Line words={item} />
        </li>
      ));
      return block.numbered ? <ol start={block.first}>{items}</ol> : <ul>{items}</ul>;
    }
    case 'equation':
      return (
        <div className="paper-equation" id={block.key}>
          <Maths tex={block.tex} block />
          {block.number > 0 && <span>({block.number})</span>}
        </div>
      );
    case 'table':
      return <PaperTable table={block} />;
    case 'drawing':
      return (
        <figure className="paper-figure" id={block.key}>
          <Drawn drawing={block} />
          <Caption name="Figure" number={block.number} words={block.caption} />
        </figure>
      );
    case 'photo':
      return <Photo photo={block} />;
  }
}

export function Line({ words }: { words: readonly Inline[] }) {
  return words.map((word, i) => <Word key={i} word={word} />);
}

function Word({ word }: { word: Inline }): ReactNode {
  if (word.kind === 'maths') return <Maths tex={word.tex} />;
  if (word.kind === 'pointer') return <a href={`#${word.to}`}>{word.text}</a>;
  switch (word.style) {
    case 'italic':
      return <i>{word.text}</i>;
    case 'bold':
      return <b>{word.text}</b>;
    case 'sup':
      return <sup>{word.text}</sup>;
    case 'sub':
      return <sub>{word.text}</sub>;
    case 'struck':
      return <s>{word.text}</s>;
    case 'live':
      return (
        <b className="live-value" title={`{${word.name}}`}>
          {word.text}
        </b>
      );
    case 'gone':
      return (
        <mark className="gone-value" title="This stands for nothing in this lab book.">
          {word.text}
        </mark>
      );
    case 'plain':
      return word.text;
  }
}

function Caption({ name, number, words }: { name: string; number: number; words: readonly Inline[] }) {
  return (
    <figcaption>
      {number > 0 && <b>{`${name} ${number}. `}</b>}
      <Line words={words} />
    </figcaption>
  );
}

function PaperTable({ table }: { table: Schemas['Table'] }) {
  const { state } = useBook(({ state }) => ({ state }));
  const drawn = useRef<HTMLTableElement>(null);
  const [copied, setCopied] = useState('');
  const copy = () => {
    if (!drawn.current) return;
    copyTable(drawn.current)
      .then(() => setCopied('Copied.'))
      .catch(() => setCopied('This browser does not let it be copied.'));
  };
  const side = (i: number) => (table.worded[i] ? 'paper-words' : undefined);
  return (
    <div className="paper-scroll" tabIndex={0} role="group" aria-label={`Table ${table.number}`}>
      <table className="paper-table" id={table.key} ref={drawn}>
        <caption>
          <b>{`Table ${table.number}. `}</b>
          <Line words={table.caption} />
        </caption>
        <thead>
          <tr>
            {table.head.map((cell, i) => (
              <th key={i} scope="col" className={side(i)}>
                <Line words={cell} />
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {table.rows.map((row, i) => (
            <tr key={i}>
              {row.map((cell, j) => (
                <td key={j} className={side(j)}>
                  <Line words={cell} />
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      <p className="row table-tools">
        <Button size="small" type="text" onClick={copy} aria-label={`Copy Table ${table.number}`}>
          Copy
        </Button>
        <a href={`/api/books/${state.id}/report/tables/${table.key}.pdf`} aria-label={`Table ${table.number} alone on a page`}>
          Alone on a page
        </a>
        <span role="status">{copied}</span>
      </p>
    </div>
  );
}

/** The drawing itself, made where all the report's are made; a part of the page, so that its words are in the page's fonts. */
function Drawn({ drawing }: { drawing: Schemas['Drawing'] }) {
  const { state } = useBook(({ state }) => ({ state }));
  const place = useRef<HTMLDivElement>(null);
  const svg = useQuery({
    queryKey: ['report-drawing', state.id, state.revision, drawing.key],
    queryFn: async () => {
      const answer = await fetch(`/api/books/${state.id}/report/drawings/${drawing.key}.svg`);
      if (!answer.ok) throw new Error('This drawing cannot be fetched just now.');
      return answer.text();
    },
    placeholderData: (before) => before,
  });
  useEffect(() => {
    if (!svg.data || !place.current) return;
    const drawn = new DOMParser().parseFromString(svg.data, 'image/svg+xml').documentElement;
    drawn.removeAttribute('width');
    drawn.removeAttribute('height');
    drawn.setAttribute('aria-hidden', 'true');
    place.current.replaceChildren(document.importNode(drawn, true));
  }, [svg.data]);
  if (svg.error && !svg.data) return <p className="notice">{svg.error.message}</p>;
  return <div ref={place} className="paper-drawing" role="img" aria-label={drawing.described} />;
}

function Photo({ photo }: { photo: Schemas['Photo'] }) {
  const { state } = useBook(({ state }) => ({ state }));
  return (
    <figure className={`paper-figure ${photo.height > photo.width ? 'is-tall' : ''}`} id={photo.key}>
      <img src={pictureAddress(state.id, photo.picture)} alt={photo.described} width={photo.width} height={photo.height} loading="lazy" />
      <Caption name="Figure" number={photo.number} words={photo.caption} />
    </figure>
  );
}
