export {
  type ColleagueEdit,
  parseEdit,
  type SavingHabit,
  saveAsColleague,
  setCell,
} from './colleague.ts';
export { DEMO_PASSWORD, DEMO_PEOPLE } from './people.ts';
export { AUTUMN_REPORT, type DemoNode, type DemoObject } from './report.ts';
export { DEMO_FOLDERS, writeDemoSources } from './sources.ts';
