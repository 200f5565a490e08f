/** The demo's people, all invented. */
export const DEMO_PEOPLE = [
  { name: 'Ines Fallow', title: 'Programme officer', signInName: 'ines', role: 'owner' },
  { name: 'Tam Reedsby', title: 'Field ecologist', signInName: 'tam', role: 'editor' },
  { name: 'Odile Marram', title: 'Trustee', signInName: 'odile', role: 'viewer' },
] as const;

/** The password of every demo person: there is nothing to protect in invented figures. */
export const DEMO_PASSWORD = 'saltmarsh';
