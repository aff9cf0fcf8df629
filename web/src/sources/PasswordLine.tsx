type Props = { password: string; setPassword: (password: string) => void };

/** A password that is kept and never shown again. */
export function PasswordLine({ password, setPassword }: Props) {
  return (
    <label className="flex items-center gap-2 text-xs">
      <span className="w-24 shrink-0 text-dim">Password</span>
      <input
        type="password"
        autoComplete="off"
        value={password}
        placeholder="as it is kept; nobody is shown it again"
        onChange={(event) => setPassword(event.target.value)}
        className="min-w-0 flex-1 rounded border border-paper-edge bg-ground/40 px-2 py-0.5 placeholder:text-faint"
      />
    </label>
  );
}
