import type { SourceDoc } from "../api/client";
import { AreaLine, TextLine } from "../shared/PartFrame";
import { PasswordLine } from "./PasswordLine";

type Feed = NonNullable<SourceDoc["feed"]>;

type Props = {
  value: Feed;
  set: (value: Feed) => void;
  password: string;
  setPassword: (password: string) => void;
};

/** How a web server is spoken to that does not answer everybody, or has a certificate of the company's own. */
export function FeedFields({ value, set, password, setPassword }: Props) {
  const begun = !!(value.login || value.certificates);
  return (
    <details open={begun} className="rounded border border-paper-edge p-2">
      <summary className="cursor-pointer text-dim text-xs">Sign-in and certificates</summary>
      <div className="mt-1 flex flex-col gap-2">
        <TextLine
          label="Sign in as"
          value={value.login ?? ""}
          hint="a name; empty for nobody in particular"
          set={(login) => set({ ...value, login })}
        />
        {value.login && <PasswordLine password={password} setPassword={setPassword} />}
        <AreaLine
          label="Trusted"
          value={value.certificates ?? ""}
          rows={2}
          hint="-----BEGIN CERTIFICATE----- of whoever signs the server's; empty for those this machine trusts"
          mono
          set={(certificates) => set({ ...value, certificates })}
        />
      </div>
    </details>
  );
}
