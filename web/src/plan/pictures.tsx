// Pictures of a plan: chosen, dropped or pasted; made smaller here, made anew by the server, and named in the plan with words for those
// who do not see them.
import { type ClipboardEvent, type DragEvent, useRef } from 'react';
import { type Schemas, type StageName, upload } from '@/shared/api/client';
import { useBook } from '@/shared/book/context';
import { newId } from '@/shared/book/newId';
import { TroubleLine } from '@/shared/form/fields';
import { useSend } from '@/shared/form/useSend';
import { pictureAddress } from '@/shared/ui/Pictures';
import { Bare, Items } from './fields';
import { changed, without } from './lists';
import { usePlan } from './usePlan';

type Picture = Schemas['Picture'];
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

export function PictureFields({ stage }: { stage: StageName }) {
  const { state } = useBook(({ state }) => ({ state }));
  const { plan, write } = usePlan();
  const [trouble, send, busy] = useSend();
  const input = useRef<HTMLInputElement>(null);
  const pictures = plan.pictures[stage] ?? [];
  const set = (next: Picture[]) => write({ pictures: { ...plan.pictures, [stage]: next } as typeof plan.pictures });
  const bring = (files: readonly File[]) => {
    if (!files.length) return;
    send(async () => {
      const chosen = files.filter((f) => f.type.startsWith('image/'));
      if (!chosen.length) throw new Error('This is no picture. JPEG, PNG and WEBP can be shown.');
      const added: Picture[] = [];
      for (const file of chosen) {
        const form = new FormData();
        form.append('file', await makeSmaller(file), 'picture');
        const kept = await upload<Schemas['PictureOut']>('/api/plans/{plan_id}/pictures', form, state.plan);
        added.push({ id: newId('pic'), alt: '', caption: '', data: '', ...kept });
      }
      set([...pictures, ...added]);
    });
  };
  const onDrop = (event: DragEvent) => {
    event.preventDefault();
    bring([...event.dataTransfer.files]);
  };
  const onPaste = (event: ClipboardEvent) => {
    if (event.clipboardData.files.length) {
      event.preventDefault();
      bring([...event.clipboardData.files]);
    }
  };
  return (
    <div onDrop={onDrop} onDragOver={(e) => e.preventDefault()} onPaste={onPaste}>
      <Items
        label={stage === 'ask' ? 'Pictures of the set-up' : 'Pictures'}
        items={pictures}
        keyOf={(p) => p.id}
        add={<span title="Choose it, drop it here, or paste it">Add a picture</span>}
        busy={busy}
        onAdd={() => input.current?.click()}
        onRemove={(i) => set(without(pictures, i))}
      >
        {(p, i) => (
          <div className="plan-picture">
            <img src={pictureAddress(state.id, p.key)} alt={p.alt} />
            <Bare
              label={`What is to be seen on picture ${i + 1}`}
              value={p.alt}
              most={300}
              hint="what is to be seen on it"
              onWrite={(alt) => set(changed(pictures, i, { alt }))}
            />
            <Bare label={`Caption of picture ${i + 1}`} value={p.caption} hint="caption" onWrite={(caption) => set(changed(pictures, i, { caption }))} />
          </div>
        )}
      </Items>
      <input
        ref={input}
        type="file"
        hidden
        multiple
        accept="image/jpeg,image/png,image/webp"
        aria-label="Picture files"
        onChange={(e) => {
          bring([...(e.target.files ?? [])]);
          e.target.value = '';
        }}
      />
      <TroubleLine trouble={trouble} />
    </div>
  );
}
