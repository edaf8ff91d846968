/** A page with nothing on it yet but a sentence. */
export function Quietly({ words }: { words: string }) {
  return (
    <main className="quiet opening" aria-busy="true">
      {words}
    </main>
  );
}
