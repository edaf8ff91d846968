/** A page with nothing on it yet but a sentence. */
export function Quietly({ words }: { words: string }) {
  return (
    <main style={{ padding: '18vh 24px', textAlign: 'center' }} className="quiet" aria-busy="true">
      {words}
    </main>
  );
}
