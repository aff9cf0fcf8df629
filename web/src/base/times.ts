const two = (number: number) => String(number).padStart(2, "0");

/** A moment as it reads everywhere here, in the reader's own time: 2026-11-24 09:30. */
export function moment(at: string): string {
  const date = new Date(at);
  const day = `${date.getFullYear()}-${two(date.getMonth() + 1)}-${two(date.getDate())}`;
  return `${day} ${two(date.getHours())}:${two(date.getMinutes())}`;
}
