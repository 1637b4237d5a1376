// Builds the web application and the command line.
import { build } from './prepare.mjs';

await build({ force: true });
