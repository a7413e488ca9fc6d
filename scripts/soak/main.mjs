/** The soak: kills and broken things, some minutes long. `--seed` repeats a run as far as time allows. */
import { parseArgs } from 'node:util';
import { media, requests } from './fuzz.mjs';
import { kills } from './kills.mjs';
import { random } from './world.mjs';

const { values } = parseArgs({
  options: {
    seed: { type: 'string', default: String(Date.now() % 1e6) },
    kills: { type: 'string', default: '30' },
    media: { type: 'string', default: '60' },
    documents: { type: 'string', default: '200' },
    requests: { type: 'string', default: '250' },
  },
});
const dice = random(Number(values.seed));
console.log(`seed ${values.seed}`);
const problems = [
  ...(Number(values.kills) ? await kills(Number(values.kills), dice) : []),
  ...(Number(values.media) ? await media(Number(values.media), dice) : []),
  ...(Number(values.documents) ? await requests(Number(values.documents), Number(values.requests), dice) : []),
];
for (const problem of problems) console.log(`! ${problem}`);
console.log(problems.length ? `${problems.length} problems` : 'nothing was lost, nothing was left, nothing broke');
process.exit(problems.length ? 1 : 0);
