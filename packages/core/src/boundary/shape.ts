/** Reading what comes from outside: one validated shape at every boundary, and what is wrong with it in words. */
import 'reflect-metadata';
import { registerDecorator, ValidateIf, ValidateNested, validateSync, type ValidationError } from 'class-validator';
import { ToldError } from './told-error.js';

/** What came in does not have the shape that is wanted here; every problem in words. */
export class ShapeError extends ToldError {
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

/** A member that may be absent. One that is there and null is checked like any other, and so refused. */
export const Optional = (): PropertyDecorator => ValidateIf((_, value) => value !== undefined);

type ShapeClass = new () => object;

/** The shapes of members that have one of their own, by the class that declares them. */
const nested = new Map<object, Map<string, () => ShapeClass>>();

/** Declares that a member is an object of another shape, or a list of such. */
export const Nested =
  (shapeOf: () => ShapeClass): PropertyDecorator =>
  (target, property) => {
    const members = nested.get(target) ?? new Map<string, () => ShapeClass>();
    nested.set(target, members.set(String(property), shapeOf));
    ValidateNested()(target, property);
  };

function shapeOfMember(Shape: ShapeClass, name: string): ShapeClass | null {
  for (let p = Shape.prototype as object | null; p; p = Object.getPrototypeOf(p) as object | null) {
    const shapeOf = nested.get(p)?.get(name);
    if (shapeOf) return shapeOf();
  }
  return null;
}

/**
 * A plain object as an instance of a shape, its nested members too. What has no shape of its own is shared, not copied, so
 * that a document of many keyframes costs no more than a short one.
 */
function instanceOf<T extends object>(Shape: new () => T, plain: object): T {
  const made = new Shape();
  for (const [name, value] of Object.entries(plain)) {
    // These would hide the shape from its own checks.
    if (name === 'constructor' || name === '__proto__') continue;
    const Inner = shapeOfMember(Shape, name);
    const inner = (v: unknown) => (Inner && isPlain(v) ? instanceOf(Inner, v) : v);
    (made as Record<string, unknown>)[name] = Array.isArray(value) && Inner ? value.map(inner) : inner(value);
  }
  return made;
}

const isPlain = (v: unknown): v is object => typeof v === 'object' && v !== null && !Array.isArray(v);

/** What is wrong with a value that should have a shape (a class with class-validator's decorators); empty if nothing. */
export function problemsOf(Shape: ShapeClass, plain: unknown): string[] {
  if (!isPlain(plain)) return ['it is not a JSON object'];
  if (tooDeep(plain)) return [`it is nested more than ${DEEPEST} levels deep`];
  return inWords(validateSync(instanceOf(Shape, plain), { forbidUnknownValues: true }), '');
}

/** A value with the shape; members that the shape does not know are left out. Throws ShapeError, which begins with `what`. */
export function readShape<T extends object>(Shape: new () => T, plain: unknown, what: string): T {
  const problems = problemsOf(Shape, plain);
  if (problems.length) throw new ShapeError(what, problems);
  return instanceOf(Shape, plain as object);
}

function inWords(errors: ValidationError[], prefix: string): string[] {
  return errors.flatMap((e) => [
    ...Object.values(e.constraints ?? {}).map((text) => `${prefix}${e.property}: ${text}`),
    ...inWords(e.children ?? [], `${prefix}${e.property}.`),
  ]);
}

/**
 * A decorator made of a test that says what is wrong, or null. Documents are never changed in place, so that a list which
 * passed once, as most do in the next step of a history, is not tested again.
 */
export function Checked(test: (value: unknown) => string | null): PropertyDecorator {
  const passed = new WeakSet<object>();
  const problem = (value: unknown) => {
    const known = typeof value === 'object' && value !== null;
    if (known && passed.has(value)) return null;
    const found = test(value);
    if (known && found === null) passed.add(value);
    return found;
  };
  return (target, property) => {
    registerDecorator({
      name: 'checked',
      target: target.constructor,
      propertyName: String(property),
      validator: {
        validate: (value: unknown) => problem(value) === null,
        defaultMessage: (args) => problem(args?.value) ?? '',
      },
    });
  };
}
