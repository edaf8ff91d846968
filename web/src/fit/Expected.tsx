// The exponent that is expected of a power, to be compared with the fitted one.
import type { Schemas } from '@/shared/api/client';
import { Labelled } from '@/shared/ui/Labelled';
import { Exact } from '@/shared/ui/Exact';
import { useField } from '@/shared/ui/useTyped';

export function Expected({ fit, onPlace }: { fit: Schemas['Fit']; onPlace: (part: Partial<Schemas['Fit']>) => void }) {
  const field = useField(fit.expected, (expected) => onPlace({ expected }));
  return (
    <form
      className="fit-expected"
      onSubmit={(e) => {
        e.preventDefault();
        field.onBlur();
      }}
    >
      <Labelled words="exponent expected">
        <Exact size="small" className="field-tiny" maxLength={20} placeholder="3/2" {...field} />
      </Labelled>
    </form>
  );
}
