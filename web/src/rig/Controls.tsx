// What can be done to a rig, in groups; each with its key.
import type { Schemas } from '@/shared/api/client';

type Control = Schemas['Control'];

function grouped(controls: readonly Control[]): [string, Control[]][] {
  const groups = new Map<string, Control[]>();
  for (const control of controls) groups.set(control.group, [...(groups.get(control.group) ?? []), control]);
  return [...groups];
}

export function Controls({ controls, onPress }: { controls: readonly Control[]; onPress: (control: Control) => void }) {
  return (
    <div className="rig-controls">
      {grouped(controls).map(([group, items]) => (
        <div key={group} role="group" aria-label={group}>
          <span className="rig-group" aria-hidden="true">
            {group}
          </span>
          {items.map((control) => (
            <button
              key={`${control.act} ${control.value}`}
              type="button"
              aria-pressed={control.chosen ?? undefined}
              aria-disabled={control.hindered ? true : undefined}
              aria-keyshortcuts={control.key}
              title={control.hindered || undefined}
              onClick={() => onPress(control)}
            >
              {control.words}
              {!control.words.endsWith(` ${control.key}`) && <kbd aria-hidden="true">{control.key.toUpperCase()}</kbd>}
            </button>
          ))}
        </div>
      ))}
    </div>
  );
}
