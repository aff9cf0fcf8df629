import { NOTHING_ASKED } from "../base/address";
import { Link } from "../base/Link";

/** What came from a file is nobody else's any more. */
const OF_FILES = ["a CSV file", "an LDIF file"];

/** Whose record this is where somebody else keeps it: what is changed here lasts until it is read again. */
export function FromSource({ source }: { source: string }) {
  if (!source) return null;
  if (OF_FILES.includes(source)) return <p className="text-dim text-xs">Came from {source}.</p>;
  return (
    <p className="text-dim text-xs">
      Comes from{" "}
      <Link to={{ page: "sources", ...NOTHING_ASKED, what: source }} className="underline decoration-edge">
        {source}
      </Link>
      ; what you change here lasts until that is read again.
    </p>
  );
}
