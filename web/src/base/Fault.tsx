/** What the server had to say against something, where there is anything to say. */
export function Fault({ fault }: { fault: string }) {
  if (!fault) return null;
  return (
    <p role="alert" className="py-1 text-madder text-xs">
      {fault}
    </p>
  );
}
