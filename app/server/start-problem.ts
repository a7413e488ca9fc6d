import { ToldError } from '@glimbo/core/boundary/told-error';

/** Why Glimbo cannot start, in a sentence for whoever starts it. */
export class StartProblem extends ToldError {}
