/** What leaves a keyframe, by name; a curve of one's own is shown, and stays unless another is chosen. */
import { EASES, type Ease } from '@glimbo/core/curve/ease';
import { Select } from '~/ui/Select';
import { EASE_NAMES } from './ease-names';

export function EaseSelect({
  label,
  ease,
  className = 'w-full',
  onChange,
}: {
  label: string;
  ease: Ease;
  className?: string;
  onChange: (ease: Ease) => void;
}) {
  const value = typeof ease === 'string' ? ease : 'custom';
  return (
    <Select
      className={`h-6! min-w-16 py-0 ${className}`}
      label={label}
      value={value}
      options={[
        ...EASES.map((e) => [e, EASE_NAMES[e]] as const),
        ...(value === 'custom' ? [['custom', 'Own curve'] as const] : []),
      ]}
      onChange={(e) => e !== 'custom' && onChange(e)}
    />
  );
}
