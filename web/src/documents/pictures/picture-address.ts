/** Where the server has a picture; of a drawing without some of its layers. */
export const pictureAddress = (hash: string, without: readonly string[] = []): string =>
  `/api/pictures/${hash}${without.length > 0 ? `?without=${without.join(',')}` : ''}`;
