import { Moon, Sun } from 'lucide-react';
import { NavLink, useRouteLoaderData } from 'react-router';
import { useState } from 'react';

export function Mark() {
  return (
    <NavLink to="/" className="flex items-center gap-2 font-semibold" aria-label="Glimbo, to the Library">
      <img src="/mark.svg" alt="" width={22} height={22} />
      Glimbo
    </NavLink>
  );
}

/** Switches between the day and the night sheet; kept in a cookie so that the first paint is right. */
export function SheetSwitch() {
  const data = useRouteLoaderData('root') as { sheet: string } | undefined;
  const [sheet, setSheet] = useState(data?.sheet ?? 'day');
  const turn = () => {
    const next = sheet === 'day' ? 'night' : 'day';
    document.documentElement.dataset.sheet = next;
    document.cookie = `glimbo-sheet=${next}; path=/; max-age=31536000; samesite=strict`;
    setSheet(next);
  };
  return (
    <button
      className="icon-button"
      onClick={turn}
      aria-label={sheet === 'day' ? 'Night sheet' : 'Day sheet'}
      title={sheet === 'day' ? 'Night sheet' : 'Day sheet'}
    >
      {sheet === 'day' ? <Moon size={15} /> : <Sun size={15} />}
    </button>
  );
}

const PAGES = [
  ['/', 'Library'],
  ['/exports', 'Exports'],
  ['/settings', 'Settings'],
] as const;

export function PageHeader() {
  return (
    <header className="flex h-12 items-center gap-6 border-b border-rule px-5">
      <Mark />
      <nav className="flex gap-5">
        {PAGES.map(([to, name]) => (
          <NavLink
            key={to}
            to={to}
            end
            className={({ isActive }) =>
              isActive ? 'border-b-2 border-ink py-3 font-semibold' : 'py-3 text-muted hover:text-ink'
            }
          >
            {name}
          </NavLink>
        ))}
      </nav>
      <span className="flex-1" />
      <SheetSwitch />
    </header>
  );
}
