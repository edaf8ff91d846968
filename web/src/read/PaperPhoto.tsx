// A photo of the page in the paper lab book, pinned above the table while it is typed in. It never leaves this device, and goes with the tab.
import { useState } from 'react';
import { TroubleWords } from '@/shared/ui/TroubleWords';

const STEP = 1.4;
const MOST = 6;

// by lab book, so that it is still there after a look at another station
const pinned = new Map<number, string>();

export function usePaperPhoto(book: number) {
  const [address, setAddress] = useState(pinned.get(book) ?? null);
  const pin = (file: File | null) => {
    const before = pinned.get(book);
    if (before) URL.revokeObjectURL(before);
    const next = file && URL.createObjectURL(file);
    if (next) pinned.set(book, next);
    else pinned.delete(book);
    setAddress(next);
  };
  return { address, pin };
}

export function PaperPhoto({ address, onPutAway }: { address: string; onPutAway: () => void }) {
  const [zoom, setZoom] = useState(1);
  const [broken, setBroken] = useState(false);
  return (
    <section className="paper-photo" aria-label="Photo of the page">
      {broken ? (
        <TroubleWords>This is no picture that can be shown. A photo in JPEG or PNG can.</TroubleWords>
      ) : (
        <div className="paper-photo-view" tabIndex={0} role="group" aria-label="The photo; arrow keys move it">
          <img src={address} alt="The page of the paper lab book" width={`${100 * zoom}%`} onError={() => setBroken(true)} />
        </div>
      )}
      <div className="paper-photo-acts">
        {!broken && (
          <>
            <button type="button" aria-label="Smaller" disabled={zoom <= 1} onClick={() => setZoom(Math.max(1, zoom / STEP))}>
              −
            </button>
            <button type="button" aria-label="Larger" disabled={zoom >= MOST} onClick={() => setZoom(Math.min(MOST, zoom * STEP))}>
              +
            </button>
          </>
        )}
        <button type="button" onClick={onPutAway}>
          put away
        </button>
      </div>
    </section>
  );
}
