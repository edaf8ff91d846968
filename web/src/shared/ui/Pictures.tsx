// The pictures that a plan shows at a station, each with its caption; or what is to be seen on it where it cannot be shown.
import { useState } from 'react';
import type { Schemas, StageName } from '@/shared/api/client';
import { useBook } from '@/shared/book/context';
import './pictures.css';

type Picture = Schemas['Picture'];

export const pictureAddress = (book: number, key: string): string => `/api/books/${book}/pictures/${key}`;

export function Pictures({ stage }: { stage: StageName }) {
  const { state } = useBook(({ state }) => ({ state }));
  const pictures = state.document.plan.pictures?.[stage] ?? [];
  if (!pictures.length) return null;
  return (
    <div className="pictures">
      {pictures.map((picture) => (
        <Shown key={picture.id + picture.key} book={state.id} picture={picture} />
      ))}
    </div>
  );
}

function Shown({ book, picture }: { book: number; picture: Picture }) {
  const [gone, setGone] = useState(!picture.key);
  const address = pictureAddress(book, picture.key);
  return (
    <figure className="picture">
      {gone ? (
        <p className="notice">This picture cannot be shown{picture.alt ? `. It shows: ${picture.alt}` : '.'}</p>
      ) : (
        <a href={address} target="_blank" rel="noreferrer" title="See it as large as it is">
          <img src={address} alt={picture.alt} width={picture.width} height={picture.height} loading="lazy" onError={() => setGone(true)} />
        </a>
      )}
      {picture.caption && <figcaption>{picture.caption}</figcaption>}
    </figure>
  );
}
