/** Before any test: what tests run of the built engine, kernel and application is what the sources say now. */
import { execFileSync } from 'node:child_process';

export default function build() {
  execFileSync('node', ['scripts/build.mjs'], { stdio: ['ignore', 'ignore', 'inherit'] });
}
