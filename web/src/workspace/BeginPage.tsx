import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { ApiError, api } from "../api/client";
import { goTo } from "../base/address";
import { Fault } from "../base/Fault";

/** The first page of a new server: begin with the demo company, or with nothing. */
export function BeginPage({ who }: { who: string }) {
  const client = useQueryClient();
  const [organisation, setOrganisation] = useState("");
  const [fault, setFault] = useState("");
  const begin = (how: Parameters<typeof api.begin>[1], page: string) => begun(api.begin(who, how), page);
  const begun = (work: Promise<unknown>, page: string) =>
    work
      .then(() => {
        goTo({ page });
        return client.invalidateQueries();
      })
      .catch((error) => setFault(error instanceof ApiError ? error.problem.detail : String(error)));
  return (
    <div className="mx-auto flex max-w-[760px] flex-col gap-4 p-8">
      <h2 className="font-semibold text-lg">Nothing is here yet. What do you begin with?</h2>
      <section className="rounded border border-edge bg-paper p-4">
        <h3 className="font-semibold">Your own network</h3>
        <p className="mb-2 text-dim">
          You say what lies around the gateway, bring people in from a file or by hand, and write or bring in
          the first rulebase. Each page says what comes next.
        </p>
        <form
          className="flex gap-2"
          onSubmit={(event) => {
            event.preventDefault();
            begin({ with: "empty", organisation }, "zones");
          }}
        >
          <input
            aria-label="Name of your organisation"
            placeholder="name of your organisation"
            value={organisation}
            maxLength={200}
            onChange={(event) => setOrganisation(event.target.value)}
            className="w-72 rounded border border-paper-edge bg-ground/40 px-2 py-1 placeholder:text-faint"
          />
          <button type="submit" className="press press-main" disabled={!organisation.trim()}>
            Begin empty
          </button>
        </form>
      </section>
      <section className="rounded border border-edge bg-paper p-4">
        <h3 className="font-semibold">The demo company</h3>
        <p className="mb-2 text-dim">
          A made-up ferry line with its gateways, people, applications and recorded traffic, and with mistakes
          in its rules for you to find.
        </p>
        <button type="button" className="press" onClick={() => begin({ with: "demo" }, "rulebase")}>
          Begin with the demo company
        </button>
      </section>
      <section className="rounded border border-edge bg-paper p-4">
        <h3 className="font-semibold">An archive</h3>
        <p className="mb-2 text-dim">
          Everything of another server in one file, as its page <i>Gateways</i> saves it.
        </p>
        <input
          type="file"
          aria-label="An archive"
          accept=".zip,application/zip"
          onChange={(event) => {
            const chosen = event.target.files?.[0];
            event.target.value = "";
            if (chosen) begun(api.restoreArchive(who, chosen), "gateways");
          }}
        />
      </section>
      <Fault fault={fault} />
    </div>
  );
}
