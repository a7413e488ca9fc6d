/** Answers of actions: whatever goes wrong becomes one sentence with the right status, and is logged if it is our fault. */
import { data, type ActionFunctionArgs } from 'react-router';
import { readShape, tooDeep } from '@glimbo/core/boundary/shape';
import { DISK_FULL, isFull } from '../base/disk';
import { log } from '../base/log';
import { ToldError } from '@glimbo/core/boundary/told-error';

/** Something that the user can do something about: told as it stands. */
export class Refusal extends ToldError {
  constructor(
    sentence: string,
    readonly status = 422,
  ) {
    super(sentence);
  }
}

/** What is told of a failure, and with which status. */
export function told(error: unknown): { problem: string; status: number } {
  if (error instanceof Refusal) return { problem: error.message, status: error.status };
  if (error instanceof ToldError) return { problem: error.message, status: 422 };
  if (isFull(error)) return { problem: DISK_FULL, status: 507 };
  log.error({ err: error }, 'an action failed');
  return { problem: 'Something went wrong on the server. Nothing was changed; try again.', status: 500 };
}

/** An action whose failures are told in a sentence, as `{ problem }`. */
export function handled<T>(action: (args: ActionFunctionArgs) => Promise<T>) {
  return async (args: ActionFunctionArgs) => {
    try {
      return await action(args);
    } catch (error) {
      if (error instanceof Response) throw error;
      const { problem, status } = told(error);
      return data({ problem }, { status });
    }
  };
}

/** The same for resource routes, which answer JSON. */
export function answered(action: (args: ActionFunctionArgs) => Promise<object>) {
  return async (args: ActionFunctionArgs): Promise<Response> => {
    try {
      const answer = await action(args);
      return answer instanceof Response ? answer : Response.json(answer);
    } catch (error) {
      const { problem, status } = told(error);
      return Response.json({ problem }, { status });
    }
  };
}

/** A request's JSON body. Throws Refusal when it is none, or nested beyond reason. */
export async function readJson(request: Request): Promise<unknown> {
  let plain: unknown;
  try {
    plain = JSON.parse(await request.text());
  } catch {
    throw new Refusal('The request is not JSON. Nothing was changed.', 400);
  }
  if (tooDeep(plain)) throw new Refusal('The request is nested too deep. Nothing was changed.', 400);
  return plain;
}

/** A request's JSON body with a shape of the core's. Throws Refusal or ShapeError. */
export const readBody = async <T extends object>(Shape: new () => T, request: Request): Promise<T> =>
  readShape(Shape, await readJson(request), 'Nothing was changed. The request cannot be used');

/** A form's fields as texts. Throws Refusal when the body is no form. */
export async function readForm(request: Request): Promise<FormData> {
  try {
    return await request.formData();
  } catch {
    throw new Refusal('The form could not be read. Nothing was changed.', 400);
  }
}
