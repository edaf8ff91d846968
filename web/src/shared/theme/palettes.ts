// The look in its three forms: warm paper and ink, the same by lamplight, and ink alone. Style sheets know the names as custom properties
// (`--quiet`), the component library gets the values; a form that lacks a name does not compile.
import look from '@look';

export interface Palette {
  paper: string;
  sheet: string;
  tint: string;
  ink: string;
  quiet: string;
  ghost: string;
  rule: string;
  edge: string;
  shade: string;
  plum: string;
  'on-plum': string;
  'plum-wash': string;
  saffron: string;
  'saffron-text': string;
  'saffron-wash': string;
  moss: string;
  'moss-wash': string;
  brick: string;
  'brick-wash': string;
  /** Of series, in a fixed order, each with a shape of its own; those of paper are Okabe’s and Ito’s. */
  series: readonly string[];
}

export type ThemeName = 'light' | 'dark' | 'contrast';

export const palettes: Record<ThemeName, Palette> = {
  light: {
    paper: '#FBF7F0',
    // what graphs are drawn with on paper
    ...look.paper,
    tint: '#FAF5EC',
    ghost: '#C9BFAE',
    edge: '#B9AD9C',
    shade: 'rgb(43 34 51 / 18%)',
    'on-plum': '#FFFFFF',
    'plum-wash': '#F5EEF5',
    'saffron-text': '#8A5800',
    'saffron-wash': '#FDF3DE',
    moss: '#3F6B4A',
    'moss-wash': '#ECF3EC',
    brick: '#A8321F',
    'brick-wash': '#FBECE8',
  },
  dark: {
    paper: '#19151D',
    sheet: '#221D28',
    tint: '#2A2430',
    ink: '#EFE8F1',
    quiet: '#B8AEBE',
    ghost: '#6F6577',
    rule: '#423A49',
    edge: '#83788A',
    shade: 'rgb(0 0 0 / 55%)',
    plum: '#DBADDF',
    'on-plum': '#221D28',
    'plum-wash': '#3A2D3F',
    saffron: '#E8A33D',
    'saffron-text': '#F1BE70',
    'saffron-wash': '#3A2F1D',
    moss: '#8FC79D',
    'moss-wash': '#22332A',
    brick: '#F28E7E',
    'brick-wash': '#412522',
    // the same seven, lighter where the dark sheet would swallow them; black becomes white
    series: ['#4F9FE6', '#F0813C', '#31C49A', '#E79CC6', '#F3B93F', '#A5DAF8', '#FFFFFF'],
  },
  contrast: {
    paper: '#FFFFFF',
    sheet: '#FFFFFF',
    tint: '#FFFFFF',
    ink: '#000000',
    quiet: '#2A2A2A',
    ghost: '#5F5F5F',
    rule: '#6E6E6E',
    edge: '#000000',
    shade: 'rgb(0 0 0 / 60%)',
    plum: '#3D0742',
    'on-plum': '#FFFFFF',
    'plum-wash': '#EFE0F1',
    saffron: '#8A4B00',
    'saffron-text': '#5E3300',
    'saffron-wash': '#FFF0D0',
    moss: '#0F4A26',
    'moss-wash': '#DDF0E2',
    brick: '#8C0F00',
    'brick-wash': '#FFE3DD',
    series: ['#00487F', '#9C3900', '#00563C', '#8A2F62', '#6B4A00', '#14648F', '#000000'],
  },
};

/** Where the system paints with a few colours of its own, everything that is drawn is drawn with those. */
const forced: Palette = {
  paper: 'Canvas',
  sheet: 'Canvas',
  tint: 'Canvas',
  ink: 'CanvasText',
  quiet: 'CanvasText',
  ghost: 'GrayText',
  rule: 'GrayText',
  edge: 'CanvasText',
  shade: 'transparent',
  plum: 'LinkText',
  'on-plum': 'Canvas',
  'plum-wash': 'Canvas',
  saffron: 'CanvasText',
  'saffron-text': 'CanvasText',
  'saffron-wash': 'Canvas',
  moss: 'CanvasText',
  'moss-wash': 'Canvas',
  brick: 'CanvasText',
  'brick-wash': 'Canvas',
  series: ['CanvasText', 'CanvasText', 'CanvasText', 'CanvasText', 'CanvasText', 'CanvasText', 'CanvasText'],
};

function writeProperties({ series, ...named }: Palette): string {
  const all = [...Object.entries(named), ...series.map((colour, i) => [`series-${i}`, colour])];
  return all.map(([name, value]) => `--${name}:${value}`).join(';');
}

/** The style sheet of a form. Paper is light whatever the screen is. */
export function writeTheme(name: ThemeName): string {
  return [
    `:root{color-scheme:${name === 'dark' ? 'dark' : 'light'};${writeProperties(palettes[name])}}`,
    `@media print{:root{color-scheme:light;${writeProperties(palettes.light)}}}`,
    `@media (forced-colors:active){:root{${writeProperties(forced)}}}`,
  ].join('\n');
}
