/** What a subject looks like, in its colour: pressed, another one is chosen. */
import { DropdownMenu } from 'radix-ui';
import { TINTS, type Subject, type Tint } from '~/model/subject';
import { sheetTint } from './tints';

interface SubjectFaceProps {
  subject: Subject;
  /** Where its picture is; none as long as it was not looked at. */
  picture: string | null;
  onTint: (tint: Tint) => void;
}

export function SubjectFace({ subject: { name, tint }, picture, onTint }: SubjectFaceProps) {
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger
        className="size-7 flex-none overflow-hidden border-3"
        style={{ borderColor: sheetTint(tint), background: sheetTint(tint) }}
        aria-label={`Colour of ${name}: ${tint}`}
        title="Its colour"
      >
        {picture && (
          <img
            key={picture}
            src={picture}
            alt=""
            className="size-full object-cover"
            data-testid="subject-picture"
            // One that was followed before there were pictures has none.
            onError={(e) => (e.currentTarget.hidden = true)}
          />
        )}
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content className="menu" sideOffset={4} align="start">
          <DropdownMenu.RadioGroup value={tint} onValueChange={(t) => onTint(t as Tint)}>
            {TINTS.map((t) => (
              <DropdownMenu.RadioItem key={t} value={t} className="menu-item">
                <span className="mr-2 inline-block size-3" style={{ background: sheetTint(t) }} />
                <span className="flex-1 capitalize">{t}</span>
                <DropdownMenu.ItemIndicator>✓</DropdownMenu.ItemIndicator>
              </DropdownMenu.RadioItem>
            ))}
          </DropdownMenu.RadioGroup>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
