import { expect, it } from 'vitest';
import { letterOf, symbolsIn } from './symbolsIn';

const written = (text: string) =>
  symbolsIn(text)
    .map((p) => p.text + (p.lowered && `[${p.lowered}]`))
    .join('');

it('lowers what stands behind a letter and leaves names and files alone', () => {
  expect(written('the constants leave ± 0.72 %, most of it θ_r. It differs from n_half = 2.')).toBe(
    'the constants leave ± 0.72 %, most of it θ[r]. It differs from n[half] = 2.',
  );
  expect(written('before it: V_e = 11.5 mL')).toBe('before it: V[e] = 11.5 mL');
  expect(written('Say what k_0 is, and N_12.')).toBe('Say what k[0] is, and N[12].');
  expect(written('t₁₀, my_own_name.csv, run_1, a_, _b and x_1234 stay')).toBe('t₁₀, my_own_name.csv, run_1, a_, _b and x_1234 stay');
  expect(written('')).toBe('');
  expect(symbolsIn('m_b')).toEqual([{ text: 'm', lowered: 'b' }]);
});

it('says a symbol by its letter, as formulas spell it', () => {
  expect(['mu', 'mu_0', 'sigma', 'omega', 'Omega', 'Delta_t', 'alpha', 'rho'].map(letterOf)).toEqual(['μ', 'μ_0', 'σ', 'ω', 'Ω', 'Δ_t', 'α', 'ρ']);
  expect(['E_0', 'MU', 'mug', 'final', 'x', ''].map(letterOf)).toEqual(['E_0', 'MU', 'mug', 'final', 'x', '']);
});
