/** A number with its noun: `1 cell`, `3 cells`. */
export const counted = (count: number, word: string) => `${count} ${word}${count === 1 ? '' : 's'}`;
