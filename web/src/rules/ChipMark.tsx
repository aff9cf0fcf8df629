import { Filter, Globe, House, Layers, ListTree, type LucideIcon, Shapes, Users } from "lucide-react";

const MARKS: [string, LucideIcon][] = [
  ["set ", Layers],
  ["group ", Users],
  ["family ", House],
  ["category ", Shapes],
  ["host ", Globe],
  ["country ", Globe],
  ["list ", ListTree],
  ["where ", Filter],
];

/** What a value stands for, as a small mark before it; nothing for plain values. */
export function ChipMark({ value }: { value: string }) {
  const mark = MARKS.find(([prefix]) => value.startsWith(prefix));
  if (!mark) return null;
  const [word, Icon] = mark;
  return <Icon size={11} aria-label={word.trim()} className="mr-0.5 inline shrink-0 text-faint" />;
}
