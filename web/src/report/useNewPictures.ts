// Pictures for the report: chosen, dropped, pasted or taken; kept by the server, then named in the lab book.
import { useBook, useBookStore } from '@/shared/book/context';
import { type Trouble, useSend } from '@/shared/form/useSend';
import { sendPictures } from '@/shared/pictures/sendPictures';

export interface NewPictures {
  bring: (files: readonly File[]) => void;
  trouble: Trouble;
  busy: boolean;
}

export function useNewPictures(): NewPictures {
  const { state } = useBook(({ state }) => ({ state }));
  const store = useBookStore();
  const [trouble, send, busy] = useSend();
  const bring = (files: readonly File[]) => {
    if (!state.can_edit) return;
    send(async () => {
      for (const picture of await sendPictures(files, '/api/books/{book_id}/pictures', state.id))
        store.edit({ type: 'add_report_picture', picture: { ...picture, data: '' } });
    });
  };
  return { bring, trouble, busy };
}
