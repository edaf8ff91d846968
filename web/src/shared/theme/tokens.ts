// The look as the component library takes it.
import { type ThemeConfig, theme } from 'antd';
import { type ThemeName, palettes } from './palettes';

const family = "'Atkinson Hyperlegible Next', system-ui, sans-serif";

/** `still`: nothing moves. A movement that takes no time leaves lists open, whose end it should have told. */
export function themeOf(name: ThemeName, still: boolean): ThemeConfig {
  const p = palettes[name];
  // where washes are as good as white, what is chosen is filled
  const bold = name === 'contrast';
  return {
    cssVar: {},
    hashed: false,
    // the styles are in the style sheet of the page, see build/libraryStyles.ts
    zeroRuntime: true,
    algorithm: name === 'dark' ? theme.darkAlgorithm : theme.defaultAlgorithm,
    token: {
      colorPrimary: p.plum,
      colorInfo: p.plum,
      colorSuccess: p.moss,
      colorWarning: p.saffron,
      colorError: p.brick,
      colorText: p.ink,
      colorTextSecondary: p.quiet,
      colorTextPlaceholder: p.quiet,
      colorBorder: p.edge,
      colorBorderSecondary: p.rule,
      colorBgBase: p.sheet,
      colorBgContainer: p.sheet,
      colorBgElevated: p.sheet,
      colorBgLayout: p.paper,
      colorTextLightSolid: p['on-plum'],
      colorLink: p.plum,
      colorLinkHover: p.plum,
      colorLinkActive: p.plum,
      colorPrimaryBg: p['plum-wash'],
      colorPrimaryBgHover: p['plum-wash'],
      controlItemBgHover: p.tint,
      borderRadius: 4,
      fontFamily: family,
      fontSize: 15,
      controlHeight: 34,
      boxShadow: 'none',
      boxShadowSecondary: `0 2px 10px ${p.shade}`,
      motion: !still,
      motionDurationMid: '0.12s',
      motionDurationSlow: '0.16s',
    },
    components: {
      Button: { primaryShadow: 'none', defaultShadow: 'none', dangerShadow: 'none', fontWeight: 600 },
      Segmented: { trackBg: p.tint, itemSelectedBg: bold ? p.plum : p.sheet, itemSelectedColor: bold ? p['on-plum'] : p.plum },
      Input: { activeShadow: `0 0 0 2px ${p['plum-wash']}` },
    },
  };
}
