'use client';
import { createTheme } from '@mui/material/styles';

declare module '@mui/material/styles' {
  interface Palette {
    /** The ground that the picture lies on. */
    canvas: { main: string };
  }
  interface PaletteOptions {
    canvas?: { main: string };
  }
}

const WORDS = '"Hanken Grotesk Variable", sans-serif';

/** Exactly neutral greys, one accent; dark only, since the picture is judged against it. */
export const theme = createTheme({
  cssVariables: { colorSchemeSelector: 'class' },
  defaultColorScheme: 'dark',
  colorSchemes: {
    dark: {
      palette: {
        mode: 'dark',
        canvas: { main: '#161616' },
        background: { default: '#1f1f1f', paper: '#2a2a2a' },
        divider: '#383838',
        text: { primary: '#d6d6d6', secondary: '#9a9a9a' },
        primary: { main: '#e8a33d', contrastText: '#161616' },
        success: { main: '#57b894' },
        error: { main: '#e0604c' },
      },
    },
  },
  typography: {
    fontFamily: WORDS,
    fontSize: 13,
    body1: { fontSize: 13, lineHeight: 1.4 },
    body2: { fontSize: 12 },
    button: { textTransform: 'none', fontWeight: 500 },
  },
  shape: { borderRadius: 4 },
  spacing: 8,
  components: {
    MuiButtonBase: { defaultProps: { disableRipple: true }, styleOverrides: { root: { font: 'inherit' } } },
    MuiButton: {
      defaultProps: { disableElevation: true, size: 'small' },
      // The frame of a quiet button is a line like any other.
      styleOverrides: {
        root: {
          '&.MuiButton-outlined.MuiButton-colorInherit': { borderColor: 'var(--mui-palette-divider)' },
        },
      },
    },
    MuiPaper: { styleOverrides: { root: { backgroundImage: 'none' } } },
    MuiTooltip: {
      defaultProps: { enterDelay: 500, disableInteractive: true, describeChild: true },
      styleOverrides: {
        tooltip: { fontSize: 11, backgroundColor: '#2a2a2a', border: '1px solid #383838', color: '#d6d6d6' },
      },
    },
    MuiDialogTitle: { styleOverrides: { root: { fontSize: 15, fontWeight: 600 } } },
    MuiToggleButton: {
      styleOverrides: {
        root: {
          textTransform: 'none',
          fontSize: 12,
          padding: '3px 10px',
          '&.Mui-selected': { color: 'var(--mui-palette-primary-main)' },
        },
      },
    },
  },
});
