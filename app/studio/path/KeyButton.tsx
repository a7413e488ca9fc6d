/** The ring that says whether a channel has a key at the playhead, and whether it has any; pressed, it sets one or takes it away. */

interface KeyButtonProps {
  /** The channel's name in the middle of a sentence. */
  name: string;
  here: boolean;
  any: boolean;
  /** What is shown while it is pointed at and no key is here. */
  about: string;
  onToggle: () => void;
}

export function KeyButton({ name, here, any, about, onToggle }: KeyButtonProps) {
  return (
    <button
      className="icon-button h-6! w-4.5!"
      aria-label={`Key of ${name} here`}
      aria-pressed={here}
      title={here ? `Take the key of ${name} away` : about}
      onClick={onToggle}
    >
      <svg width={11} height={11} viewBox="-6 -6 12 12" aria-hidden>
        <circle
          r={4.2}
          fill={here ? 'var(--camera)' : 'none'}
          stroke={any ? 'var(--camera)' : 'var(--edge)'}
          strokeWidth={1.8}
        />
      </svg>
    </button>
  );
}
