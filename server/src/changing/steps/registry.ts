import { deletion } from './deletion.ts';
import { freeze } from './freeze.ts';
import { hold } from './hold.ts';
import { lines } from './lines.ts';
import { mode } from './mode.ts';
import { mooring } from './mooring.ts';
import { name } from './name.ts';
import { relink } from './relink.ts';
import { share } from './share.ts';
import { state } from './state.ts';
import { writeBack } from './write-back.ts';

/** Every step that the log can take back, under the name by which its data know it. */
export const STEPS = {
  state,
  mode,
  share,
  name,
  hold,
  freeze,
  deletion,
  writeBack,
  lines,
  relink,
  mooring,
};
