/** Lines behind a heading that says how many there are; nothing where there are none. */
export function Folded({ title, lines }: { title: string; lines: string[] }) {
  if (lines.length === 0) return null;
  return (
    <details className="text-xs" open={lines.length <= 6}>
      <summary className="cursor-pointer py-1 font-semibold text-dim">
        {title} ({lines.length})
      </summary>
      <ul className="pl-3">
        {lines.map((line) => (
          <li key={line}>{line}</li>
        ))}
      </ul>
    </details>
  );
}
