import { createTheme, type MantineColorsTuple, type MantineThemeOverride } from '@mantine/core'

const clay: MantineColorsTuple = [
  '#fbede3',
  '#f5dccb',
  '#ecbfa3',
  '#e3a079',
  '#e08a5f',
  '#cb6a3d',
  '#ae4c24',
  '#97401d',
  '#7f3517',
  '#672a11',
]
const glaze: MantineColorsTuple = [
  '#e4f1eb',
  '#cfe6dc',
  '#a3d0be',
  '#6cc3ac',
  '#4aa68e',
  '#348a74',
  '#23705f',
  '#1c5d4f',
  '#164b40',
  '#103a31',
]

/** Every part of Mantine is dressed here and in tokens.css; components carry no looks of their own. */
export const theme: MantineThemeOverride = createTheme({
  colors: { clay, glaze },
  primaryColor: 'clay',
  primaryShade: { light: 6, dark: 4 },
  autoContrast: true,
  fontFamily: "'Atkinson Hyperlegible Next Variable', sans-serif",
  fontFamilyMonospace: "'Atkinson Hyperlegible Mono Variable', monospace",
  defaultRadius: 6,
  fontSizes: { xs: '12px', sm: '13px', md: '14px', lg: '16px', xl: '20px' },
  headings: { fontFamily: "'Atkinson Hyperlegible Next Variable', sans-serif" },
  components: {
    // Within the page's landmarks, and above whatever scrolls.
    Menu: { defaultProps: { withinPortal: false, floatingStrategy: 'fixed', withInitialFocusPlaceholder: false } },
    Notification: { defaultProps: { closeButtonProps: { 'aria-label': 'Close' } } },
    Button: {
      defaultProps: { size: 'sm', variant: 'default' },
      vars: (_theme: unknown, props: { variant?: string }) => ({
        root:
          props.variant === 'filled'
            ? {
                '--button-bg': 'var(--clay)',
                '--button-color': 'var(--on-clay)',
                '--button-hover': 'color-mix(in srgb, var(--clay) 88%, var(--ink))',
              }
            : {},
      }),
    },
    TextInput: { defaultProps: { size: 'sm' } },
    Select: { defaultProps: { size: 'sm' } },
    MultiSelect: { defaultProps: { size: 'sm' } },
    SegmentedControl: {
      defaultProps: { size: 'xs', withItemsBorders: false },
      vars: () => ({ root: { '--sc-color': 'var(--sheet)', '--sc-shadow': 'none' } }),
      styles: {
        root: { background: 'var(--chosen)' },
        indicator: { border: '1px solid var(--ink)' },
        label: { color: 'var(--ink)' },
      },
    },
    Checkbox: { defaultProps: { size: 'xs' } },
    Switch: { defaultProps: { size: 'sm' } },
    Tooltip: { defaultProps: { withArrow: false } },
  },
})
