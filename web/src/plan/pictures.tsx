// Pictures of a plan: chosen, dropped or pasted, and named in the plan with words for those who do not see them.
import { type ClipboardEvent, type DragEvent, useRef } from 'react';
import type { StageName } from '@/shared/api/client';
import { useBook } from '@/shared/book/context';
import { TroubleLine } from '@/shared/form/fields';
import { useSend } from '@/shared/form/useSend';
import { type Picture, sendPictures } from '@/shared/pictures/sendPictures';
import { pictureAddress } from '@/shared/ui/Pictures';
import { Bare, Items } from './fields';
import { changed, without } from './lists';
import { usePlan } from './usePlan';

export function PictureFields({ stage }: { stage: StageName }) {
  const { state } = useBook(({ state }) => ({ state }));
  const { plan, write, typed } = usePlan();
  const [trouble, send, busy] = useSend();
  const input = useRef<HTMLInputElement>(null);
  const pictures = plan.pictures[stage] ?? [];
  const having = (next: Picture[]) => ({ pictures: { ...plan.pictures, [stage]: next } as typeof plan.pictures });
  const bring = (files: readonly File[]) => {
    if (!files.length) return;
    send(async () => write(having([...pictures, ...(await sendPictures(files, '/api/plans/{plan_id}/pictures', state.plan))])));
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
        onRemove={(i) => write(having(without(pictures, i)))}
      >
        {(p, i) => (
          <div className="plan-picture">
            <img src={pictureAddress(state.id, p.key)} alt={p.alt} />
            <Bare
              label={`What is to be seen on picture ${i + 1}`}
              value={p.alt}
              most={300}
              hint="what is to be seen on it"
              onWrite={typed((alt) => having(changed(pictures, i, { alt })))}
            />
            <Bare
              label={`Caption of picture ${i + 1}`}
              value={p.caption}
              hint="caption"
              onWrite={typed((caption) => having(changed(pictures, i, { caption })))}
            />
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
