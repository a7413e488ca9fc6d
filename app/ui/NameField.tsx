/** A name that is changed in place: taken on Enter or on leaving the field; nothing is no name. */
interface NameFieldProps {
  label: string;
  name: string;
  longest?: number;
  className?: string;
  onFocus?: () => void;
  onRename: (name: string) => void;
}

export function NameField({ label, name, longest = 80, className = '', onFocus, onRename }: NameFieldProps) {
  return (
    <input
      key={name}
      className={`min-w-0 bg-transparent ${className}`}
      aria-label={label}
      defaultValue={name}
      maxLength={longest}
      onFocus={onFocus}
      onBlur={(e) => {
        const next = e.target.value.trim();
        if (next && next !== name) onRename(next);
      }}
      onKeyDown={(e) => e.key === 'Enter' && e.currentTarget.blur()}
    />
  );
}
