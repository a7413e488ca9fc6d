/** What went wrong for whoever uses Glimbo, told as it stands: the message is a sentence for them. */
export class ToldError extends Error {}
