/** Where the server has a picture. */
export const pictureAddress = (hash: string): string => `/api/pictures/${hash}`;
