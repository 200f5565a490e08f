/** The product's name with its mark: two objects and the tether between. */
export function Wordmark({ large = false }: { large?: boolean }) {
  const size = large ? 32 : 20;
  return (
    <span className="inline-flex items-center gap-2">
      <img src="/mark.svg" alt="" width={size} height={size} />
      <span
        className={`font-heading font-semibold tracking-tight ${large ? 'text-[24px]' : 'text-[15px]'}`}
      >
        Obedient Tether
      </span>
    </span>
  );
}
