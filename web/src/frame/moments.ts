/** A moment as it reads everywhere here, in the reader's own time: 2026-11-24 09:30. */
export function moment(at: string): string {
  const date = new Date(at);
  const two = (number: number) => String(number).padStart(2, "0");
  return `${day(date)} ${two(date.getHours())}:${two(date.getMinutes())}`;
}

function day(date: Date): string {
  const two = (number: number) => String(number).padStart(2, "0");
  return `${date.getFullYear()}-${two(date.getMonth() + 1)}-${two(date.getDate())}`;
}
