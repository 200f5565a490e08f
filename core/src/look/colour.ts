/** The colour `share` of the way from one `#RRGGBB` to another, 0 to 1. */
export function mix(from: string, to: string, share: number): string {
  const part = (at: number) => {
    const [a, b] = [
      Number.parseInt(from.slice(at, at + 2), 16),
      Number.parseInt(to.slice(at, at + 2), 16),
    ];
    return Math.round(a + (b - a) * share)
      .toString(16)
      .padStart(2, '0')
      .toUpperCase();
  };
  return `#${part(1)}${part(3)}${part(5)}`;
}
