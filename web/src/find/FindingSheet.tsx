// One finding: its chain with numbers put in, the statement, what makes its uncertainty, and what it is compared with.
import { Button } from 'antd';
import type { Schemas } from '@/shared/api/client';
import { useBook, useBookStore } from '@/shared/book/context';
import { Budget } from '@/shared/ui/Budget';
import { Maths } from '@/shared/ui/Maths';
import { NumberLink } from '@/shared/ui/Number';
import { Rich } from '@/shared/ui/Rich';
import { told } from '@/shared/ui/told';
import { Comparisons } from './Comparisons';
import { Improvements } from './Improvements';
import { Places } from './Places';
import { Rounding } from './Rounding';
import { Typeset } from '@/shared/ui/Typeset';

type Result = Schemas['FindingResult'];

export function FindingSheet({ finding, result: f, onChange }: { finding: Schemas['Finding']; result: Result; onChange: () => void }) {
  const { state } = useBook(({ state }) => ({ state }));
  const store = useBookStore();
  const head = (
    <div className="stage-head">
      {f.name === finding.symbol ? (
        <h1>
          <Rich text={f.symbol} />
        </h1>
      ) : (
        <h1 className="find-name">{f.name}</h1>
      )}
      {!finding.given && state.can_edit && (
        <span className="row find-own">
          <Button size="small" type="text" onClick={onChange}>
            Change
          </Button>
          <Button
            size="small"
            type="text"
            danger
            onClick={() => store.edit({ type: 'remove_finding', finding: f.finding }, 'The finding was removed. What it was made of stays.')}
          >
            Remove
          </Button>
        </span>
      )}
    </div>
  );
  const places = finding.given && state.can_edit && <Places finding={finding} used={f.used} />;
  if (f.trouble || !f.value)
    return (
      <section aria-label={f.name}>
        {head}
        <p className="notice">{f.trouble?.message}</p>
        {places}
      </section>
    );
  const hidden = f.in_full !== '' && !f.rounding;
  return (
    <section className="find" aria-label={f.name}>
      {head}
      <div className="card find-chain">
        <Maths tex={f.formula_tex} block />
        <Maths tex={hidden ? f.numbers_tex : `${f.numbers_tex} = ${f.value.value_tex}`} block />
        {f.used.length > 0 && <Used used={f.used} />}
        {places}
        {f.in_full && <Rounding finding={finding} result={f} />}
        {!hidden && (
          <>
            <p className="find-statement">
              <NumberLink of={`finding:${f.finding}`} label={f.value.spoken}>
                <Rich text={f.symbol} /> = {f.value.text}
              </NumberLink>
            </p>
            <p className="quiet">{told(f.rounding_words)}</p>
          </>
        )}
      </div>
      {!hidden && (
        <div className="find-lower">
          <div className="card">
            <h2>What makes the uncertainty</h2>
            <Budget bars={f.budget} />
            {f.budget.some((b) => b.shared) && (
              <p className="quiet find-note">Hatched: measured once, so it moves all settings together. It is counted once, here.</p>
            )}
            <Improvements finding={f.finding} />
          </div>
          <Comparisons finding={finding} result={f} />
        </div>
      )}
    </section>
  );
}

function Used({ used }: { used: Result['used'] }) {
  return (
    <ul className="find-used">
      {used.map((u, i) => (
        <li key={i}>
          <Rich text={u.symbol} /> ={' '}
          {u.target ? (
            <NumberLink of={u.target} label={u.value.spoken}>
              {u.value.text}
            </NumberLink>
          ) : (
            <b>{u.value.text}</b>
          )}{' '}
          <span className="quiet">
            <Typeset text={u.words} />
          </span>
        </li>
      ))}
    </ul>
  );
}
