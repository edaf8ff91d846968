// The look: warm paper and ink. The same names as the custom properties in base.css.
import type { ThemeConfig } from 'antd';

export const colours = {
  paper: '#FBF7F0',
  sheet: '#FFFFFF',
  ink: '#2B2233',
  quiet: '#6B6272',
  rule: '#E4DACB',
  plum: '#5B2A5E',
  saffron: '#C77F00',
  moss: '#3F6B4A',
  brick: '#A8321F',
} as const;

// Okabe–Ito, each with a shape of its own, in a fixed order.
export const seriesColours = ['#0072B2', '#D55E00', '#009E73', '#CC79A7', '#E69F00', '#56B4E9', '#000000'] as const;
export const seriesShapes = ['circle', 'square', 'triangle', 'diamond', 'down', 'plus', 'cross'] as const;

const family = "'Atkinson Hyperlegible Next', system-ui, sans-serif";

export const antdTheme: ThemeConfig = {
  cssVar: {},
  hashed: false,
  token: {
    colorPrimary: colours.plum,
    colorInfo: colours.plum,
    colorSuccess: colours.moss,
    colorWarning: colours.saffron,
    colorError: colours.brick,
    colorText: colours.ink,
    colorTextSecondary: colours.quiet,
    colorTextPlaceholder: '#766D7C',
    colorBorder: '#B9AD9C',
    colorBorderSecondary: colours.rule,
    colorBgLayout: colours.paper,
    colorLink: colours.plum,
    borderRadius: 4,
    fontFamily: family,
    fontSize: 15,
    controlHeight: 34,
    boxShadow: 'none',
    boxShadowSecondary: '0 2px 10px rgb(43 34 51 / 14%)',
    motionDurationMid: '0.12s',
    motionDurationSlow: '0.16s',
  },
  components: {
    Button: { primaryShadow: 'none', defaultShadow: 'none', dangerShadow: 'none', fontWeight: 600 },
    Segmented: { trackBg: '#F1E9DC', itemSelectedBg: colours.sheet, itemSelectedColor: colours.plum },
    Input: { activeShadow: '0 0 0 2px rgb(91 42 94 / 18%)' },
  },
};
