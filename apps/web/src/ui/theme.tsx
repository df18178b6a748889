import '@fontsource-variable/atkinson-hyperlegible-mono/wght.css';
import '@fontsource-variable/atkinson-hyperlegible-next/wght.css';
import createCache from '@emotion/cache';
import { CacheProvider } from '@emotion/react';
import { CssBaseline, GlobalStyles, ThemeProvider, createTheme } from '@mui/material';
import { type ReactNode, useMemo } from 'react';
import { type Scheme, colour } from '@sobrin/core/drawing';
import { FONT, MONO, tokenSheet } from './tokens';
import { nonce } from './nonce';
import { usePreferences } from './preferences';
import { IF_SMALL } from './frame';

function themeOf(scheme: Scheme) {
  const tone = (name: string): string => colour(scheme, name);
  return createTheme({
    palette: {
      mode: scheme,
      primary: { main: tone('spruce'), contrastText: tone('on-spruce') },
      secondary: { main: tone('plum') },
      error: { main: tone('brick') },
      warning: { main: tone('ochre') },
      info: { main: tone('spruce') },
      background: { default: tone('ground'), paper: tone('surface') },
      text: { primary: tone('ink'), secondary: tone('ink2'), disabled: tone('ink3') },
      divider: tone('line'),
    },
    shape: { borderRadius: 8 },
    spacing: 8,
    typography: {
      fontFamily: FONT,
      fontSize: 13,
      h1: { fontSize: 17, lineHeight: '20px', fontWeight: 700 },
      h2: { fontSize: 15, lineHeight: '20px', fontWeight: 700 },
      h3: { fontSize: 13, lineHeight: '18px', fontWeight: 700 },
      body1: { fontSize: 13, lineHeight: '18px' },
      body2: { fontSize: 12, lineHeight: '16px' },
      button: { textTransform: 'none', fontWeight: 650 },
    },
    components: {
      MuiButtonBase: { defaultProps: { disableRipple: true } },
      MuiButton: {
        defaultProps: { disableElevation: true },
        styleOverrides: {
          // Where there is no room, or letters stand apart (WCAG 1.4.12), a button has two lines.
          root: { borderRadius: 8, minHeight: 32, lineHeight: 1.25 },
          outlined: { borderColor: 'var(--line2)', color: 'var(--ink)', backgroundColor: 'var(--surface)' },
        },
      },
      MuiTextField: { defaultProps: { size: 'small' } },
      MuiOutlinedInput: {
        styleOverrides: {
          root: { backgroundColor: 'var(--surface)' },
          notchedOutline: { borderColor: 'var(--line2)' },
        },
      },
      MuiPaper: { styleOverrides: { root: { backgroundImage: 'none' } } },
      MuiTableCell: {
        styleOverrides: {
          root: { borderColor: 'var(--line)', padding: '7px 12px' },
          head: { fontSize: 12, fontWeight: 650, color: 'var(--ink2)', lineHeight: '16px' },
        },
      },
      MuiTooltip: {
        defaultProps: { arrow: false, enterDelay: 300 },
        styleOverrides: { tooltip: { backgroundColor: 'var(--ink)', color: 'var(--surface)', fontSize: 12 } },
      },
      MuiDialog: {
        styleOverrides: {
          paper: {
            borderRadius: 12,
            border: '1px solid var(--line2)',
            [IF_SMALL]: {
              margin: 8,
              width: 'calc(100% - 16px)',
              maxWidth: 'calc(100% - 16px) !important',
              maxHeight: 'calc(100% - 16px)',
            },
          },
        },
      },
      // On the dark ground a shadow is not seen.
      MuiPopover: { styleOverrides: { paper: { border: '1px solid var(--line2)' } } },
      MuiDialogTitle: { styleOverrides: { root: { [IF_SMALL]: { padding: '12px 12px 4px' } } } },
      MuiDialogContent: { styleOverrides: { root: { [IF_SMALL]: { padding: 12 } } } },
      MuiDialogActions: { styleOverrides: { root: { flexWrap: 'wrap', rowGap: 4 } } },
    },
  });
}

const styles = createCache({ key: 'css', ...(nonce && { nonce }) });

/** Sobrin's look: MUI with our own tones, type and forms. */
export function Look({ children }: { children: ReactNode }) {
  const scheme = usePreferences((state) => state.scheme);
  const theme = useMemo(() => themeOf(scheme), [scheme]);
  return (
    <CacheProvider value={styles}>
      <ThemeProvider theme={theme}>
        <CssBaseline />
        <GlobalStyles
          styles={{
            ':root': { ...tokenSheet(scheme), '--mono': MONO, colorScheme: scheme },
            'html, body, #root': { height: '100%' },
            // What stays at the lower edge hides nothing that has the focus (WCAG 2.4.11).
            [IF_SMALL]: { html: { scrollPadding: '8px 0 72px' } },
            body: { fontVariantNumeric: 'tabular-nums' },
            '.mono': { fontFamily: MONO, fontVariantNumeric: 'tabular-nums' },
            ':focus-visible': { outline: '2px solid var(--spruce)', outlineOffset: 2 },
            // What fills the page has its line inside.
            'main:focus-visible, .drawing:focus-visible': { outlineOffset: -2 },
            '.slot': {
              font: 'inherit',
              fontWeight: 650,
              color: 'var(--spruce)',
              background: 'none',
              border: 0,
              borderRadius: 4,
              padding: '0 1px',
              cursor: 'pointer',
              textDecoration: 'underline dotted 1.5px',
              textUnderlineOffset: 4,
              textAlign: 'left',
            },
            // What a requirement counts for is read after what it says.
            '.terms.MuiTypography-root': { lineHeight: '24px' },
            '.terms .slot': {
              fontWeight: 500,
              color: 'inherit',
              textDecorationThickness: '1px',
              minHeight: 24,
              minWidth: 24,
            },
            '.slot:hover': { background: 'var(--spruce-tint)' },
            // On paper nothing scrolls: a page is as long as what is on it. Drawings keep their size.
            '@media print': {
              'html, body, #root': { height: 'auto' },
              '#root *:not(.react-flow):not(.react-flow *)': { overflow: 'visible !important' },
              'li, tr': { breakInside: 'avoid-page' },
              nav: { display: 'none !important' },
            },
            // Where the system chooses the colours, pictures keep theirs, and what is chosen has a line.
            '@media (forced-colors: active)': {
              '.drawing, .fill-bar, .map-strip, .address-grid, .share-bar, .vlan-badge, .recharts-wrapper': {
                forcedColorAdjust: 'none',
              },
              '[aria-pressed=true], [aria-selected=true], [aria-current=true], [aria-current=page], button[aria-expanded=true], .chosen':
                { outline: '2px solid Highlight !important', outlineOffset: '-2px !important' },
              ':focus-visible': { outline: '3px solid CanvasText !important' },
              '.MuiSwitch-track, .MuiSwitch-thumb': { border: '1px solid ButtonText' },
              '.Mui-checked .MuiSwitch-thumb': { background: 'Highlight', forcedColorAdjust: 'none' },
            },
            '@media (prefers-reduced-motion: reduce)': {
              '*, *::before, *::after': { transition: 'none !important', animation: 'none !important' },
            },
            'input[type=search]::-webkit-search-cancel-button': { display: 'none' },
            kbd: {
              fontFamily: MONO,
              fontSize: 11,
              border: '1px solid var(--line2)',
              borderRadius: 4,
              padding: '1px 5px',
              background: 'var(--surface)',
              color: 'var(--ink2)',
            },
          }}
        />
        {children}
      </ThemeProvider>
    </CacheProvider>
  );
}
