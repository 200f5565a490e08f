import { spawn } from 'node:child_process';

/** Says what the command is doing. */
export function say(text) {
  console.log(`· ${text}`);
}

/** Ends the command with a sentence and what to do next. */
export function giveUp(message, hint) {
  console.error(`\n${message}\n${hint}`);
  process.exit(1);
}

/**
 * Runs a program and resolves with its exit code. `quiet` keeps its output back and gives it only when it fails.
 * @returns {Promise<{ code: number, output: string }>}
 */
export function run(program, args, { quiet = false, ...options } = {}) {
  return new Promise((resolve) => {
    const child = spawn(program, args, {
      stdio: quiet ? ['ignore', 'pipe', 'pipe'] : ['ignore', 'inherit', 'inherit'],
      ...options,
    });
    let output = '';
    child.stdout?.on('data', (chunk) => {
      output += chunk;
    });
    child.stderr?.on('data', (chunk) => {
      output += chunk;
    });
    child.on('error', (error) => resolve({ code: 127, output: error.message }));
    child.on('close', (code) => resolve({ code: code ?? 1, output }));
  });
}
