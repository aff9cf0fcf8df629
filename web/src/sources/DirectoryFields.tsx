import { useState } from "react";
import type { SourceDoc } from "../api/client";
import { AreaLine, PickLine, TextLine } from "../shared/PartFrame";
import { PasswordLine } from "./PasswordLine";

export type Ldap = NonNullable<SourceDoc["directory"]>;

/** How most directories have it. */
export const USUAL_LDAP: Ldap = {
  security: "starttls",
  certificates: "",
  bind: "",
  base: "",
  people: "(objectClass=person)",
  groups: "(objectClass=groupOfNames)",
  login: "uid",
  fullName: "cn",
  attributes: {},
};

const SECURITY: [string, string][] = [
  ["starttls", "encrypted from StartTLS on, or from the beginning where the address says ldaps"],
  ["none", "in the clear: only to this machine, or where nobody can listen"],
];

type Props = {
  value: Ldap;
  set: (value: Ldap) => void;
  password: string;
  setPassword: (password: string) => void;
};

/** How people and groups are found in a directory. */
export function DirectoryFields({ value, set, password, setPassword }: Props) {
  const put = (members: Partial<Ldap>) => set({ ...value, ...members });
  const line = (
    label: string,
    member: "bind" | "base" | "people" | "groups" | "login" | "fullName",
    hint: string,
  ) => (
    <TextLine label={label} value={value[member] ?? ""} hint={hint} set={(text) => put({ [member]: text })} />
  );
  const [attributes, setAttributes] = useState(
    Object.entries(value.attributes ?? {})
      .map(([name, where]) => `${name} = ${where}`)
      .join("\n"),
  );
  return (
    <fieldset className="flex flex-col gap-2 rounded border border-paper-edge p-2">
      <legend className="px-1 text-dim text-xs">In the directory</legend>
      <PickLine
        label="Connection"
        value={value.security ?? "starttls"}
        options={SECURITY}
        set={(security) => put({ security })}
      />
      {line("Log in as", "bind", "cn=reader,dc=company,dc=example; empty for nobody in particular")}
      <PasswordLine password={password} setPassword={setPassword} />
      {line("Search base (DN)", "base", "dc=company,dc=example")}
      {line("People", "people", "(objectClass=person)")}
      {line("Groups", "groups", "(objectClass=groupOfNames); empty for none")}
      {line("Login", "login", "uid")}
      {line("Name of person", "fullName", "cn")}
      <AreaLine
        label="Attributes"
        value={attributes}
        rows={3}
        hint="for rules, one a line: home port = l"
        mono
        set={(text) => {
          setAttributes(text);
          put({ attributes: pairs(text) });
        }}
      />
      <AreaLine
        label="Trusted"
        value={value.certificates ?? ""}
        rows={2}
        hint="-----BEGIN CERTIFICATE----- of whoever signs the server's; empty for those this machine trusts"
        mono
        set={(text) => put({ certificates: text })}
      />
    </fieldset>
  );
}

/** Lines such as "home port = l" as what each attribute is called and where it stands. */
export function pairs(text: string): Record<string, string> {
  return Object.fromEntries(
    text
      .split("\n")
      .map((line) => line.split("="))
      .filter((parts) => parts.length === 2 && parts[0].trim() && parts[1].trim())
      .map(([name, where]) => [name.trim(), where.trim()]),
  );
}
