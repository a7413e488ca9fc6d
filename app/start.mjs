/** Starts the built application. */
import { start } from '../build/app/server/index.js';

await start();
