/** How far something is, as a bar that is read out too. */

interface ProgressProps {
  label: string;
  /** Share done, 0…1. */
  share: number;
  className?: string;
  /** Over a picture: light on dark. */
  overPicture?: boolean;
}

export function Progress({ label, share, className = '', overPicture = false }: ProgressProps) {
  const percent = Math.round(share * 100);
  return (
    <div
      role="progressbar"
      aria-label={label}
      aria-valuemin={0}
      aria-valuemax={100}
      aria-valuenow={percent}
      className={`${overPicture ? 'h-[3px] bg-white/20' : 'bar'} ${className}`}
    >
      <div className={overPicture ? 'h-full bg-white' : ''} style={{ width: `${share * 100}%` }} />
    </div>
  );
}
