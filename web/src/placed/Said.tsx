/** What an object says of itself where it stands; nothing without words. */
export function Said({ words }: { words: string | null }) {
  if (words === null) return null;
  return <p className="mt-1 font-sans text-[12px] leading-4 text-muted italic">{words}</p>;
}
