import { ToldError } from './told-error.js';

/** A document that cannot be read as what it is said to be; `problem` says in a few words why, without naming the document. */
export class DocumentError extends ToldError {
  constructor(readonly problem: string) {
    super(`The document cannot be read: ${problem}.`);
  }
}
