export { BOARDWALK_SHEET, type DemoPages } from './boardwalk-sheet.ts';
export {
  type ColleagueEdit,
  parseEdit,
  type SavingHabit,
  saveAsColleague,
  setCell,
} from './colleague.ts';
export { FUNDERS_BRIEFING } from './funders-briefing.ts';
export { ACTS, act, countKept, listOffice, type Office, officeOf, undo } from './office.ts';
export { DEMO_PASSWORD, DEMO_PEOPLE } from './people.ts';
export {
  AUTUMN_REPORT,
  type DemoObject,
  type DemoReport,
  type DemoWords,
  SHORT_REPORT,
} from './report.ts';
export { DEMO_FOLDERS, writeDemoSources } from './sources.ts';
