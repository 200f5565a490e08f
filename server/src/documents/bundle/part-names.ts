/** Letters that some file systems do not take, and such as are not seen. */
// biome-ignore lint/suspicious/noControlCharactersInRegex: they are what is looked for
const ODD = /[\u0000-\u001f<>:"|?*\\]/g;
const LONGEST = 120;

/**
 * A path below a folder of its own, for a file that came from elsewhere: without steps upwards, hidden parts and letters that
 * some file systems do not take.
 */
export function cleanPath(...path: string[]): string {
  const steps = path.flatMap((each) => each.split(/[/\\]/)).map(cleanStep);
  return steps.filter((step) => step !== '').join('/');
}

/** One step of such a path; empty where nothing is left of it. */
function cleanStep(step: string): string {
  const clean = step.replace(ODD, '_').replace(/^[.\s~$]+|[.\s]+$/g, '');
  const dot = clean.lastIndexOf('.');
  const ending = dot > 0 && clean.length - dot <= 6 ? clean.slice(dot) : '';
  return clean.length <= LONGEST ? clean : clean.slice(0, LONGEST - ending.length) + ending;
}

/** Gives names that nothing else has, also where capitals count for nothing. */
export class PartNames {
  private readonly taken = new Set<string>();

  name(wanted: string): string {
    const dot = wanted.lastIndexOf('.');
    const at = dot > wanted.lastIndexOf('/') + 1 ? dot : wanted.length;
    for (let nth = 1; ; nth++) {
      const each = nth === 1 ? wanted : `${wanted.slice(0, at)} ${nth}${wanted.slice(at)}`;
      if (this.taken.has(each.toLowerCase())) continue;
      this.taken.add(each.toLowerCase());
      return each;
    }
  }
}
