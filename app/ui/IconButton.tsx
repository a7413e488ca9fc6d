/** A button that is a picture alone: its name is read out, and shown with its key while it is pointed at. */
import type { ReactNode } from 'react';

interface IconButtonProps {
  label: string;
  /** What is shown while it is pointed at, where that says more than the label. */
  title?: string;
  onClick: () => void;
  /** Whether it is switched on; absent for what is no switch. */
  pressed?: boolean;
  disabled?: boolean;
  className?: string;
  children: ReactNode;
}

export function IconButton({
  label,
  title = label,
  onClick,
  pressed,
  disabled,
  className = '',
  children,
}: IconButtonProps) {
  return (
    <button
      className={`icon-button ${className}`}
      title={title}
      aria-label={label}
      aria-pressed={pressed}
      disabled={disabled}
      onClick={onClick}
    >
      {children}
    </button>
  );
}
