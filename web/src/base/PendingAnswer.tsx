import { useEffect, useState } from "react";

type Props = {
  /** What is asked of the server. */
  query: { error: Error | null; refetch: () => unknown };
  /** What is worked out, after "Working out". */
  what: string;
};

/** From then on a page says how long it waits, and offers to ask again. */
const LONG = 5;

/**
 * In the place of an answer that is not there yet: what is waited for and for how long, or why it cannot be had. In both
 * cases it can be asked for again, so that nothing stands there for good.
 */
export function PendingAnswer({ query, what }: Props) {
  const [seconds, setSeconds] = useState(0);
  useEffect(() => {
    const timer = setInterval(() => setSeconds((before) => before + 1), 1_000);
    return () => clearInterval(timer);
  }, []);
  const again = (
    <button
      type="button"
      className="press text-xs"
      onClick={() => {
        setSeconds(0);
        query.refetch();
      }}
    >
      Ask again
    </button>
  );
  if (query.error)
    return (
      <p role="alert" className="text-madder text-xs">
        This could not be worked out: {what}. {query.error.message} {again}
      </p>
    );
  return (
    <p className="text-dim text-xs">
      Working out {what} …{" "}
      {seconds >= LONG && (
        <>
          for {seconds} s. {again}
        </>
      )}
    </p>
  );
}
