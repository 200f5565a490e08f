/** Schemes of addresses that words can lead to: pages, files, letters and telephones, and none that runs anything. */
const SCHEMES = /^(?:https?|ftps?|mailto|tel|sms):/i;

/** Whether words can lead to an address as it stands. */
export const isLead = (address: string): boolean => SCHEMES.test(address) && !/\s/.test(address);

/**
 * The address that is meant by what somebody typed: of the web where no scheme stands before it, of a mailbox where it has
 * an @ (the schemes of RFC 3986, section 3.1, and RFC 6068). Null for one that words cannot lead to.
 */
export function leadOf(typed: string): string | null {
  const words = typed.trim();
  // A name with a port looks like a scheme: no scheme is followed by a number.
  const hasScheme = /^[a-z][a-z0-9+.-]*:(?!\d)/i.test(words) || SCHEMES.test(words);
  const address = hasScheme ? words : `${words.includes('@') ? 'mailto:' : 'https://'}${words}`;
  return words !== '' && isLead(address) ? address : null;
}
