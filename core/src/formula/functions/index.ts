import { ARRAYS } from './arrays.ts';
import type { Functions } from './call.ts';
import { CRITERIA } from './criteria.ts';
import { DATES } from './dates.ts';
import { DISTRIBUTIONS } from './distributions.ts';
import { FINANCE } from './finance.ts';
import { LOGIC } from './logic.ts';
import { LOOK_UP } from './lookup.ts';
import { MATHEMATICS } from './mathematics.ts';
import { STATISTICS } from './statistics.ts';
import { TEXTS } from './text.ts';

/** The functions that are evaluated here, by name, but for those that the evaluator does itself. */
export const FUNCTIONS: Functions = {
  ...LOGIC,
  ...MATHEMATICS,
  ...STATISTICS,
  ...DISTRIBUTIONS,
  ...CRITERIA,
  ...LOOK_UP,
  ...ARRAYS,
  ...TEXTS,
  ...DATES,
  ...FINANCE,
};

/** Older names of the same functions. */
const ALIASES: Record<string, string> = {
  STDEV: 'STDEV.S',
  STDEVP: 'STDEV.P',
  VAR: 'VAR.S',
  VARP: 'VAR.P',
  MODE: 'MODE.SNGL',
  PERCENTILE: 'PERCENTILE.INC',
  QUARTILE: 'QUARTILE.INC',
  PERCENTRANK: 'PERCENTRANK.INC',
  RANK: 'RANK.EQ',
  PEARSON: 'CORREL',
  COVAR: 'COVARIANCE.P',
  FORECAST: 'FORECAST.LINEAR',
  NORMDIST: 'NORM.DIST',
  NORMINV: 'NORM.INV',
  NORMSINV: 'NORM.S.INV',
  LOGINV: 'LOGNORM.INV',
  CONFIDENCE: 'CONFIDENCE.NORM',
  TINV: 'T.INV.2T',
  CHIDIST: 'CHISQ.DIST.RT',
  CHIINV: 'CHISQ.INV.RT',
  CHITEST: 'CHISQ.TEST',
  FDIST: 'F.DIST.RT',
  FINV: 'F.INV.RT',
  GAMMADIST: 'GAMMA.DIST',
  EXPONDIST: 'EXPON.DIST',
  WEIBULL: 'WEIBULL.DIST',
  BINOMDIST: 'BINOM.DIST',
  CRITBINOM: 'BINOM.INV',
  POISSON: 'POISSON.DIST',
  ZTEST: 'Z.TEST',
  'GAMMALN.PRECISE': 'GAMMALN',
  'ERF.PRECISE': 'ERF',
  'ERFC.PRECISE': 'ERFC',
};
for (const [alias, name] of Object.entries(ALIASES)) FUNCTIONS[alias] = FUNCTIONS[name]!;
