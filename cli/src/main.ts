import { runCommand } from './command.ts';

const { code, text } = await runCommand(process.argv.slice(2));
process.stdout.write(`${text}\n`);
process.exitCode = code;
