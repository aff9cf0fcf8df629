import { useEffect } from "react";
import { goTo, useAddress } from "../base/address";
import { useStored } from "../base/useStored";

/** How the address says that any zone is meant. */
const ANY = "any";

const USUAL = { from: "Offices", to: "Internet" };

/** Two zones, or nothing for any, and ways to choose others. */
export type Between = {
  from: string;
  to: string;
  setFrom: (zone: string) => void;
  setTo: (zone: string) => void;
};

/**
 * Between which zones it is asked who can use what. The address says so, that it can be shared; where it does not, those
 * asked about last, for most people ask about the same two.
 */
export function useBetween(): Between {
  const address = useAddress();
  const [from, setFrom] = useEnd("from", address.from);
  const [to, setTo] = useEnd("to", address.to);
  return { from, setFrom, to, setTo };
}

function useEnd(end: "from" | "to", asked: string | undefined): [string, (zone: string) => void] {
  const [kept, keep] = useStored(`reach ${end}`, USUAL[end]);
  useEffect(() => {
    if (asked === undefined && kept !== USUAL[end]) goTo({ [end]: kept });
  }, [asked, kept, end]);
  const zone = asked ?? kept;
  const set = (next: string) => {
    keep(next || ANY);
    goTo({ [end]: next || ANY });
  };
  return [zone === ANY ? "" : zone, set];
}
