import { data, Form, redirect, useActionData, type ActionFunctionArgs } from 'react-router';
import { handled, readForm } from '~/server/answer';
import { addressContext } from '~/server/context';
import { passes, passHeader, tries } from '~/server/guard';
import { log } from '~/base/log';

export const action = handled(async ({ request, context }: ActionFunctionArgs) => {
  const address = context.get(addressContext);
  // The form is read first: between asking for the wait and counting the try nothing else may happen.
  const passphrase = String((await readForm(request)).get('passphrase') ?? '');
  const wait = tries.begin(address);
  if (wait > 0) return data({ problem: `Too many tries. Wait ${wait} seconds and try again.` }, { status: 429 });
  if (!passes(passphrase)) {
    log.warn({ address }, 'a wrong passphrase');
    return data({ problem: 'That is not the passphrase. Try again.' }, { status: 403 });
  }
  tries.succeeded(address);
  return redirect('/', { headers: { 'set-cookie': await passHeader() } });
});

export default function SignIn() {
  const answer = useActionData<typeof action>();
  return (
    <main className="grid min-h-screen place-items-center">
      <Form method="post" className="grid w-72 gap-3">
        <h1 className="text-lg font-semibold">Glimbo</h1>
        <label className="grid gap-1">
          Passphrase
          <input className="field" type="password" name="passphrase" autoFocus required />
        </label>
        {answer && 'problem' in answer && (
          <p className="text-error" role="alert">
            {answer.problem}
          </p>
        )}
        <button className="button main justify-center">Go in</button>
      </Form>
    </main>
  );
}
