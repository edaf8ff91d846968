// A moment as people write it: 12 Oct, 10:42.
export function when(at: string): string {
  return new Date(at).toLocaleString('en-GB', { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' });
}
