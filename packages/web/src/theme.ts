import { createTheme, type MantineColorsTuple } from '@mantine/core';

const lily: MantineColorsTuple = [
  '#eef7f3',
  '#dcefe7',
  '#b7dfd0',
  '#8ecdb6',
  '#63b99b',
  '#3fa685',
  '#1f8a70',
  '#197560',
  '#125e4d',
  '#0a463a',
];
const koi: MantineColorsTuple = [
  '#fdf3ec',
  '#fbe6da',
  '#f6cbb3',
  '#f0ac88',
  '#ea8d60',
  '#e57a47',
  '#e0662f',
  '#c15222',
  '#9c411a',
  '#763012',
];
const deep: MantineColorsTuple = [
  '#eef2ec',
  '#dfe7de',
  '#c3cfc6',
  '#a3b4ad',
  '#80958f',
  '#5b716c',
  '#3d5551',
  '#264340',
  '#16302e',
  '#0d2220',
];

/** The look of product.md as Mantine knows it; the same tokens stand in tokens.css. */
export const theme = createTheme({
  colors: { lily, koi, deep },
  primaryColor: 'lily',
  primaryShade: 6,
  black: '#16302e',
  fontFamily: "'Instrument Sans Variable', sans-serif",
  headings: { fontFamily: "'Bricolage Grotesque Variable', sans-serif", fontWeight: '650' },
  defaultRadius: 10,
  fontSizes: { xs: '12px', sm: '13px', md: '14px', lg: '16px', xl: '19px' },
  cursorType: 'pointer',
  components: {
    Button: { defaultProps: { size: 'sm' } },
    // Dark enough to be read on paper and mist.
    Anchor: { defaultProps: { c: 'var(--fern)' } },
    ActionIcon: { styles: { root: { '--ai-disabled-bg': 'transparent' } } },
    Modal: {
      styles: {
        title: { fontFamily: "'Bricolage Grotesque Variable', sans-serif", fontSize: 18, fontWeight: 650 },
      },
    },
    Tooltip: { defaultProps: { openDelay: 400, color: 'deep.8' } },
  },
});
