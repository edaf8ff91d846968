const RAISED: Record<string, string> = Object.fromEntries([...'0123456789-−'].map((sign, i) => [sign, [...'⁰¹²³⁴⁵⁶⁷⁸⁹⁻⁻'][i] ?? sign]));

/** Digits and a minus as they stand raised in plain text; other signs as they are. */
export const raise = (text: string): string => [...text].map((sign) => RAISED[sign] ?? sign).join('');
