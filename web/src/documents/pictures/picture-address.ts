/** Where the server has a picture; of a drawing without some of its layers, or in shades of grey. */
export function pictureAddress(
  hash: string,
  { without = [], isGrey = false }: { without?: readonly string[]; isGrey?: boolean } = {},
): string {
  const query = [
    ...(without.length > 0 ? [`without=${without.join(',')}`] : []),
    ...(isGrey ? ['grey'] : []),
  ];
  return `/api/pictures/${hash}${query.length > 0 ? `?${query.join('&')}` : ''}`;
}
