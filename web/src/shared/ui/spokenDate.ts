/** A moment in words: “Tuesday 1 December, 10:00”; a day without its hour. */
export function spokenDate(moment: string, hour = true): string {
  const at = new Date(moment);
  const day = at.toLocaleDateString('en-GB', { weekday: 'long', day: 'numeric', month: 'long' });
  return hour ? `${day}, ${at.toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' })}` : day;
}
