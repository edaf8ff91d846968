// Bring in: a file or the clipboard is looked over first; then its columns are chosen.
import { Button, Input } from 'antd';
import { useCallback, useEffect, useRef, useState } from 'react';
import { upload } from '@/shared/api/client';
import { useBook, useDecimalMark } from '@/shared/book/context';
import { withMark } from '@/shared/book/decimalMark';
import { Sheet } from '@/shared/ui/Sheet';
import { TroubleWords } from '@/shared/ui/TroubleWords';
import { BringChoices } from './BringChoices';
import type { FileLook } from './bringing';
import { LETTER_BY_LETTER } from '@/shared/ui/Exact';

/** `text`: what was pasted elsewhere and is to be brought in by its headings. */
export function BringIn({ text, onClose }: { text: string; onClose: () => void }) {
  const { state } = useBook(({ state }) => ({ state }));
  const mark = useDecimalMark();
  const [file, setFile] = useState<File | null>(null);
  const [look, setLook] = useState<FileLook | null>(null);
  const [trouble, setTrouble] = useState('');
  const [pasted, setPasted] = useState(text);
  const looked = useRef(false);
  const [over, setOver] = useState(false);
  const take = useCallback(
    (chosen: File) => {
      setTrouble('');
      const form = new FormData();
      form.append('file', chosen);
      upload<FileLook>('/api/books/{book_id}/bring-in/look', form, state.id)
        .then((found) => {
          setFile(chosen);
          setLook(found);
        })
        .catch((e: unknown) => setTrouble(e instanceof Error ? e.message : ''));
    },
    [state.id],
  );
  useEffect(() => {
    if (!text || looked.current) return;
    looked.current = true;
    take(asFile(text));
  }, [take, text]);
  return (
    <Sheet title="Bring readings in" onClose={onClose}>
      <TroubleWords>{trouble}</TroubleWords>
      {!look || !file ? (
        <div className="bring-start">
          <label
            className={`bring-drop${over ? ' over' : ''}`}
            onDragOver={(e) => {
              e.preventDefault();
              setOver(true);
            }}
            onDragLeave={() => setOver(false)}
            onDrop={(e) => {
              e.preventDefault();
              setOver(false);
              const dropped = e.dataTransfer.files[0];
              if (dropped) take(dropped);
            }}
          >
            <input
              type="file"
              accept=".csv,.tsv,.txt,.xlsx,.ods,.json,text/*"
              onChange={(e) => {
                const chosen = e.target.files?.[0];
                if (chosen) take(chosen);
              }}
            />
            <b>Choose a file, or drop it here</b>
            <span className="quiet">CSV, text with tabs, XLSX, ODS, or a Hobrel lab book</span>
          </label>
          <form
            className="bring-paste"
            onSubmit={(e) => {
              e.preventDefault();
              if (pasted.trim()) take(asFile(pasted));
            }}
          >
            <label htmlFor="bring-text">or paste a table</label>
            <Input.TextArea
              {...LETTER_BY_LETTER}
              id="bring-text"
              className="mono"
              rows={5}
              value={pasted}
              onChange={(e) => setPasted(e.target.value)}
              placeholder={withMark('L (m)\tt1\tt2\n0.300\t3.57\t3.61', mark)}
            />
            <Button htmlType="submit" disabled={!pasted.trim()}>
              Look it over
            </Button>
          </form>
        </div>
      ) : (
        <BringChoices file={file} look={look} onTrouble={setTrouble} onClose={onClose} onOther={() => setLook(null)} />
      )}
    </Sheet>
  );
}

function asFile(text: string): File {
  return new File([text], 'pasted.txt', { type: 'text/plain' });
}
