/** Puts this look onto other takes. */
import { CopyPlus } from 'lucide-react';
import { useState } from 'react';
import { OtherTakes } from '../fields/OtherTakes';

export function CopyLook() {
  const [open, setOpen] = useState(false);
  return (
    <>
      <button className="button h-6!" onClick={() => setOpen(true)} title="Put this look onto other takes">
        <CopyPlus size={13} /> To other takes
      </button>
      {open && <OtherTakes only="look" onClose={() => setOpen(false)} />}
    </>
  );
}
