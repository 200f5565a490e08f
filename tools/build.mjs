import { installPackages } from './setup/packages.mjs';

await installPackages();
const { build } = await import('./setup/build.mjs');
await build();
