/** Reading what comes from outside: one validated shape at every boundary, and what is wrong with it in words. */
import 'reflect-metadata';
import { plainToInstance } from 'class-transformer';
import { registerDecorator, validateSync, type ValidationError } from 'class-validator';

/** What came in does not have the shape that is wanted here; every problem in words. */
export class ShapeError extends Error {
  constructor(
    what: string,
    readonly problems: string[],
  ) {
    super(`${what}: ${problems.join('; ')}.`);
  }
}

/** Levels of lists and objects within each other that documents may have. None of ours has more than a dozen. */
export const DEEPEST = 40;

/** Whether something is nested deeper than `DEEPEST`. Does not recurse, so that nothing is too deep for it. */
export function tooDeep(value: unknown, deepest = DEEPEST): boolean {
  let level: unknown[] = [value];
  for (let depth = 0; level.length; depth++) {
    if (depth > deepest) return true;
    const next: unknown[] = [];
    for (const v of level)
      if (typeof v === 'object' && v !== null) for (const inner of Object.values(v)) next.push(inner);
    level = next.filter((v) => typeof v === 'object' && v !== null);
  }
  return false;
}

/** What is wrong with a value that should have a shape (a class with class-validator's decorators); empty if nothing. */
export function problemsOf(Shape: new () => object, plain: unknown): string[] {
  if (typeof plain !== 'object' || plain === null || Array.isArray(plain)) return ['it is not a JSON object'];
  if (tooDeep(plain)) return [`it is nested more than ${DEEPEST} levels deep`];
  return inWords(validateSync(plainToInstance(Shape, plain), { forbidUnknownValues: true }), '');
}

/** A value with the shape; members that the shape does not know are left out. Throws ShapeError, which begins with `what`. */
export function readShape<T extends object>(Shape: new () => T, plain: unknown, what: string): T {
  const problems = problemsOf(Shape, plain);
  if (problems.length) throw new ShapeError(what, problems);
  return plainToInstance(Shape, plain);
}

function inWords(errors: ValidationError[], prefix: string): string[] {
  return errors.flatMap((e) => [
    ...Object.values(e.constraints ?? {}).map((text) => `${prefix}${e.property}: ${text}`),
    ...inWords(e.children ?? [], `${prefix}${e.property}.`),
  ]);
}

/** A decorator made of a test that says what is wrong, or null. */
export function Checked(test: (value: unknown) => string | null): PropertyDecorator {
  return (target, property) => {
    registerDecorator({
      name: 'checked',
      target: target.constructor,
      propertyName: String(property),
      validator: {
        validate: (value: unknown) => test(value) === null,
        defaultMessage: (args) => test(args?.value) ?? '',
      },
    });
  };
}
