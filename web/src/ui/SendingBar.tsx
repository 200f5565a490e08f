/** How far a file has gone out. */
export function SendingBar({ name, share }: { name: string; share: number }) {
  const percent = Math.round(share * 100);
  return (
    <div
      role="progressbar"
      aria-label={`Sending ${name}`}
      aria-valuenow={percent}
      aria-valuemin={0}
      aria-valuemax={100}
      className="h-2 shrink-0 overflow-hidden rounded-full bg-mist"
    >
      <div className="h-full bg-deep" style={{ width: `${percent}%` }} />
    </div>
  );
}
