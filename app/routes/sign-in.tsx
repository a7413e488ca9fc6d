import { Form, redirect, useActionData, type ActionFunctionArgs } from 'react-router';
import { COOKIE, passes, passToken } from '~/server/guard';

export async function action({ request }: ActionFunctionArgs) {
  const given = String((await request.formData()).get('passphrase') ?? '');
  if (!passes(given)) return { problem: 'That is not the passphrase. Try again.' };
  return redirect('/', {
    headers: { 'set-cookie': `${COOKIE}=${passToken()}; HttpOnly; SameSite=Strict; Path=/; Max-Age=2592000` },
  });
}

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
        {answer?.problem && <p className="text-camera">{answer.problem}</p>}
        <button className="button main justify-center">Go in</button>
      </Form>
    </main>
  );
}
