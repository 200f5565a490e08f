/** How large a file is, in words. */
export function sizeText(bytes: number): string {
  if (bytes < 1024) return `${bytes} ${bytes === 1 ? 'byte' : 'bytes'}`;
  if (bytes < 1024 ** 2) return `${Math.round(bytes / 1024)} kB`;
  return `${(bytes / 1024 ** 2).toFixed(1)} MB`;
}
