import { existsSync } from 'node:fs';
import { statfs } from 'node:fs/promises';
import { useState } from 'react';
import { useFetcher, useLoaderData, type ActionFunctionArgs } from 'react-router';
import { changeSettings, readSettings } from '~/db/settings';
import { handled, readForm } from '~/server/answer';
import { config } from '~/base/config';
import { bytes } from '~/ui/format';
import { PageHeader } from '~/ui/Header';
import { Select } from '~/ui/Select';

export async function loader() {
  const disk = await statfs(config.data);
  return {
    data: config.data,
    setAside: existsSync(config.setAside) ? config.setAside : null,
    folders: config.folders,
    free: disk.bavail * disk.bsize,
    total: disk.blocks * disk.bsize,
    host: config.host,
    port: config.port,
    settings: await readSettings(),
  };
}

export const action = handled(async ({ request }: ActionFunctionArgs) => {
  const form = await readForm(request);
  const width = form.get('proxyWidth');
  const [analyse, find] = [form.get('analyseNew'), form.get('findNew')];
  await changeSettings({
    ...(width === null ? {} : { proxyWidth: Number(width) }),
    ...(analyse === null ? {} : { analyseNew: analyse === 'yes' }),
    ...(find === null ? {} : { findNew: find === 'yes' }),
  });
  return {};
});

const PROXY_SIZES = [1280, 1920, 2560, 3840].map((w) => [String(w), `${w} × ${w / 2}`] as const);

export const meta = () => [{ title: 'Settings - Glimbo' }];

export default function Settings() {
  const s = useLoaderData<typeof loader>();
  const fetcher = useFetcher();
  // What was just chosen is shown before the server has answered.
  const [chosen, setChosen] = useState(s.settings);
  const choose = (name: 'analyseNew' | 'findNew', on: boolean) => {
    setChosen({ ...chosen, [name]: on });
    void fetcher.submit({ [name]: on ? 'yes' : 'no' }, { method: 'post' });
  };
  const rows: [string, string, string][] = [
    ['Data folder', s.data, 'Database, proxies and exports. Another one: ./glimbo start --data FOLDER'],
    ...(s.setAside
      ? [
          [
            'Set aside',
            s.setAside,
            'Files in the data folder that belong to no footage, take or export. Delete what you do not need.',
          ] as [string, string, string],
        ]
      : []),
    ['Free on its disk', `${bytes(s.free)} of ${bytes(s.total)}`, 'Uploads leave at least 500 MB free.'],
    [
      'Folders for footage by path',
      s.folders.join(', '),
      'Originals in these are used in place. Others: ./glimbo start --folders A:B',
    ],
    [
      'Address',
      `http://${s.host}:${s.port}`,
      'Only this machine is answered, unless a host and a passphrase are given at the start.',
    ],
  ];
  return (
    <>
      <PageHeader />
      <main className="mx-auto max-w-3xl p-5">
        <h1 className="mb-4 text-lg font-semibold">Settings</h1>
        <section className="mb-6" aria-label="Proxies">
          <h2 className="label mb-2">Proxies</h2>
          <div className="flex items-center gap-3">
            <Select
              label="Size of new proxies"
              value={String(s.settings.proxyWidth)}
              options={PROXY_SIZES}
              onChange={(proxyWidth) => void fetcher.submit({ proxyWidth }, { method: 'post' })}
            />
            <p className="text-muted">
              Smaller ones play smoothly on slow machines. It counts for footage gathered from now on; “Make the proxy
              anew” in a footage's information sheet changes an older one. Exports always use the original.
            </p>
          </div>
        </section>
        <section className="mb-6" aria-label="New footage">
          <h2 className="label mb-2">New footage</h2>
          <label className="flex min-h-7 items-center gap-2">
            <input
              type="checkbox"
              checked={chosen.analyseNew}
              onChange={(e) => choose('analyseNew', e.target.checked)}
            />
            Analyse its motion by itself
          </label>
          <label className="flex min-h-7 items-center gap-2">
            <input type="checkbox" checked={chosen.findNew} onChange={(e) => choose('findNew', e.target.checked)} />
            Find subjects in it by itself
          </label>
          <p className="mt-1 text-muted">
            When nothing else waits, so that Steady, Follow and Activity are ready when you are. Subjects are told from
            how the rig moved, so that is analysed for them as well. What you start yourself goes first.
          </p>
        </section>
        <h2 className="label mb-2">Set when Glimbo starts</h2>
        <p className="mb-4 text-muted">
          The switch for the day and night sheet is in the upper right corner; the Studio's keys show with ?.
        </p>
        <dl>
          {rows.map(([name, value, about]) => (
            <div key={name} className="grid grid-cols-[14rem_1fr] border-t border-rule py-2">
              <dt>{name}</dt>
              <dd>
                <span className="figure break-all">{value}</span>
                <p className="text-muted">{about}</p>
              </dd>
            </div>
          ))}
        </dl>
      </main>
    </>
  );
}
