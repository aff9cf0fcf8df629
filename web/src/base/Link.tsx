import type { AnchorHTMLAttributes } from "react";
import { type Address, goTo, hrefOf } from "./address";

type Props = { to: Partial<Address> } & Omit<AnchorHTMLAttributes<HTMLAnchorElement>, "href" | "onClick">;

/** A real link to a place of the application: it can be opened in a new tab or window, and copied. */
export function Link({ to, ...more }: Props) {
  return (
    <a
      {...more}
      href={hrefOf(to)}
      onClick={(event) => {
        const elsewhere =
          event.button !== 0 || event.ctrlKey || event.metaKey || event.shiftKey || event.altKey;
        if (elsewhere || event.defaultPrevented) return;
        event.preventDefault();
        goTo(to);
      }}
    />
  );
}
