const format = new Intl.DateTimeFormat('en-GB', {
  day: 'numeric',
  month: 'short',
  year: 'numeric',
  hour: '2-digit',
  minute: '2-digit',
  timeZone: 'UTC',
  hour12: false,
});

/** A moment as people read it, in UTC: `10 Mar 2026, 00:00 UTC`. @param ms  since 1970 */
export const moment = (ms: number): string => `${format.format(ms)} UTC`;
