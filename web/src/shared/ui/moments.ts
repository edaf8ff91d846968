// Moments as people write them. A lab book is looked at again in another year: what is not of this one says of which it is.

const CLOCK = { hour: '2-digit', minute: '2-digit' } as const;

function yearOf(at: Date): { year?: 'numeric' } {
  return at.getFullYear() === new Date().getFullYear() ? {} : { year: 'numeric' };
}

/** In words: “Tuesday 1 December, 10:00”; of a day alone (“2026-12-01”) the day, wherever this device is. */
export function spokenDate(moment: string): string {
  const isDay = !moment.includes('T');
  const at = new Date(isDay ? `${moment}T12:00` : moment);
  const weekday = at.toLocaleDateString('en-GB', { weekday: 'long' });
  const day = `${weekday} ${at.toLocaleDateString('en-GB', { day: 'numeric', month: 'long', ...yearOf(at) })}`;
  return isDay ? day : `${day}, ${clock(moment)}`;
}

/** In short: “12 Oct, 10:42”. */
export function when(moment: string): string {
  const at = new Date(moment);
  return at.toLocaleString('en-GB', { day: 'numeric', month: 'short', ...yearOf(at), ...CLOCK });
}

/** The hour, where it is of today; else the day. */
export function hourOrDay(moment: string): string {
  const at = new Date(moment);
  if (at.toDateString() === new Date().toDateString()) return clock(moment);
  return at.toLocaleDateString('en-GB', { day: 'numeric', month: 'long', ...yearOf(at) });
}

/** The hour of a day: “10:42”. */
export function clock(moment: string | number): string {
  return new Date(moment).toLocaleTimeString('en-GB', CLOCK);
}
