import { Command } from "cmdk";
import { useState } from "react";
import type { Rule } from "../api/client";
import { rules } from "../bench/order";
import type { BenchState } from "../bench/useBench";
import { goTo } from "./address";

const ITEM = "px-3 py-1 data-[selected=true]:bg-rust-wash";

const MOST_RULES = 50;

/** The rules a text may mean; of ten thousand the list would be slow to draw. */
function named(all: Rule[], text: string): Rule[] {
  const wanted = text.toLowerCase().trim();
  const fits = (rule: Rule) =>
    `rule ${rule.number} ${rule.name} ${rule.id}`.toLowerCase().includes(wanted.replace(/^rule\s+/, ""));
  return all.filter((rule) => !wanted || fits(rule)).slice(0, MOST_RULES);
}

/** Everything by name: rules, named sets, places. */
export function Palette({ open, close, bench }: { open: boolean; close: () => void; bench: BenchState }) {
  const [text, setText] = useState("");
  const go = (act: () => void) => {
    close();
    act();
  };
  return (
    <Command.Dialog
      open={open}
      onOpenChange={(next) => !next && close()}
      label="Everything by name"
      overlayClassName="fixed inset-0 z-40 bg-ground/60"
      contentClassName="fixed top-20 left-1/2 z-50 w-[520px] -translate-x-1/2 overflow-hidden rounded border border-edge bg-plate shadow-xl"
    >
      <Command.Input
        value={text}
        onValueChange={setText}
        placeholder="a rule, a set, a place"
        className="w-full border-edge border-b bg-paper px-3 py-2"
      />
      <Command.List className="max-h-96 overflow-auto py-1">
        <Command.Empty className="px-3 py-2 text-dim">Nothing is called that.</Command.Empty>
        {["rulebase", "sets", "shared", "catalogue", "reach", "promises", "history"].map((page) => (
          <Command.Item
            key={page}
            value={`go to ${page}`}
            onSelect={() => go(() => goTo({ page }))}
            className={ITEM}
          >
            Go to {page}
          </Command.Item>
        ))}
        {bench.rulebase &&
          named(rules(bench.rulebase), text).map((rule) => (
            <Command.Item
              key={rule.id}
              value={`rule ${rule.number} ${rule.name} ${rule.id}`}
              onSelect={() => go(() => goTo({ page: "rulebase", rule: rule.id }))}
              className={ITEM}
            >
              <span className="text-dim">rule {rule.number}</span> {rule.name}
            </Command.Item>
          ))}
        {bench.rulebase?.sets.map((set) => (
          <Command.Item
            key={set.kind + set.name}
            value={`set ${set.name} ${set.kind}`}
            onSelect={() => go(() => goTo({ page: "sets", find: set.name }))}
            className={ITEM}
          >
            <span className="text-dim">{set.kind} set</span> {set.name}
          </Command.Item>
        ))}
      </Command.List>
    </Command.Dialog>
  );
}
