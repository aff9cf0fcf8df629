import { useQuery } from "@tanstack/react-query";
import { Command } from "cmdk";
import { useState } from "react";
import { api } from "../api/client";
import { actionsFor } from "../base/actions";
import { type Address, goTo } from "../base/address";
import { useOpenRulebase } from "../session/contexts";
import { type Named, named } from "./named";

/** More would make the list slow to draw, and nobody reads on. */
const MOST_SHOWN = 60;

type Props = { open: boolean; close: () => void };

/** Everything by name: what can be done, places, chapters, rules, sets, sheets and lanes, promises, people and applications. */
export function Palette({ open, close }: Props) {
  const openRulebase = useOpenRulebase();
  const [text, setText] = useState("");
  const catalogue = useQuery({
    queryKey: ["catalogue"],
    queryFn: api.catalogue,
    staleTime: 60_000,
    enabled: open,
  });
  const people = useQuery({
    queryKey: ["choices", openRulebase.id, "person", text],
    queryFn: () => api.choices(openRulebase.id, "person", text),
    enabled: open && text.trim().length > 1,
  });
  const actions = open ? actionsFor(text) : [];
  const found = open ? named(openRulebase, catalogue.data, people.data ?? [], text) : [];
  const go = (where: Partial<Address>) => {
    close();
    goTo(where);
  };
  return (
    <Command.Dialog
      open={open}
      onOpenChange={(next) => !next && close()}
      label="Everything by name"
      shouldFilter={false}
      overlayClassName="fixed inset-0 z-40 bg-ground/60"
      contentClassName="fixed top-20 left-1/2 z-50 w-[520px] max-w-[95vw] -translate-x-1/2 overflow-hidden rounded border border-edge bg-plate shadow-xl"
    >
      <Command.Input
        value={text}
        onValueChange={setText}
        placeholder="what to do, or a rule, a chapter, a set, a person, an application, a page"
        className="w-full border-edge border-b bg-paper px-3 py-2"
      />
      <Command.List className="max-h-96 overflow-auto py-1">
        <Command.Empty className="px-3 py-2 text-dim">Nothing is called “{text}”.</Command.Empty>
        {text.trim() !== "" &&
          actions.map((action) => (
            <Command.Item
              key={action.name}
              value={`do ${action.name}`}
              onSelect={() => {
                close();
                action.run();
              }}
              className="flex justify-between gap-4 px-3 py-1 data-[selected=true]:bg-rust-wash"
            >
              <span>
                <span className="text-dim">do</span> {action.name}
              </span>
              {action.key && <kbd className="key">{action.key}</kbd>}
            </Command.Item>
          ))}
        {found.slice(0, MOST_SHOWN).map((one) => (
          <NamedItem key={`${one.kind} ${one.name}`} one={one} go={go} />
        ))}
      </Command.List>
    </Command.Dialog>
  );
}

function NamedItem({ one, go }: { one: Named; go: (where: Partial<Address>) => void }) {
  return (
    <Command.Item
      value={`${one.kind} ${one.name}`}
      onSelect={() => go(one.where)}
      className="px-3 py-1 data-[selected=true]:bg-rust-wash"
    >
      <span className="text-dim">{one.kind}</span> {one.name}
    </Command.Item>
  );
}
