import { definePreset } from '@primeuix/themes';
import Aura from '@primeuix/themes/aura';

/** PrimeNG's parts in the direction's tokens. Colours are our CSS variables, so the dark theme follows by itself. */
const scheme = {
  surface: {
    0: 'var(--paper)',
    50: 'var(--side)',
    100: 'var(--board)',
    200: 'var(--rule)',
    300: 'var(--rule)',
    400: 'var(--pencil)',
    500: 'var(--pencil)',
    600: 'var(--pencil)',
    700: 'var(--ink)',
    800: 'var(--ink)',
    900: 'var(--ink)',
    950: 'var(--ink)',
  },
  primary: {
    color: 'var(--teal)',
    contrastColor: 'var(--on-teal)',
    hoverColor: 'color-mix(in srgb, var(--teal) 88%, var(--ink))',
    activeColor: 'color-mix(in srgb, var(--teal) 78%, var(--ink))',
  },
  highlight: {
    background: 'var(--marker)',
    focusBackground: 'var(--marker)',
    color: 'var(--ink)',
    focusColor: 'var(--ink)',
  },
  text: {
    color: 'var(--ink)',
    hoverColor: 'var(--ink)',
    mutedColor: 'var(--pencil)',
    hoverMutedColor: 'var(--pencil)',
  },
  content: {
    background: 'var(--paper)',
    hoverBackground: 'var(--bar)',
    borderColor: 'var(--rule)',
    color: 'var(--ink)',
    hoverColor: 'var(--ink)',
  },
  formField: {
    background: 'var(--paper)',
    borderColor: 'var(--rule)',
    hoverBorderColor: 'var(--pencil)',
    focusBorderColor: 'var(--teal)',
    color: 'var(--ink)',
    placeholderColor: 'var(--pencil)',
    invalidBorderColor: 'var(--red)',
    shadow: 'none',
  },
  overlay: {
    select: { background: 'var(--paper)', borderColor: 'var(--rule)', color: 'var(--ink)' },
    popover: { background: 'var(--paper)', borderColor: 'var(--rule)', color: 'var(--ink)' },
    modal: { background: 'var(--paper)', borderColor: 'var(--rule)', color: 'var(--ink)' },
  },
  list: {
    option: {
      focusBackground: 'var(--bar)',
      selectedBackground: 'var(--marker)',
      selectedFocusBackground: 'var(--marker)',
      color: 'var(--ink)',
      focusColor: 'var(--ink)',
      selectedColor: 'var(--ink)',
      selectedFocusColor: 'var(--ink)',
    },
  },
};

export const preset = definePreset(Aura, {
  primitive: { borderRadius: { none: '0', xs: '3px', sm: '5px', md: '6px', lg: '7px', xl: '7px' } },
  semantic: {
    primary: {
      50: 'var(--bar)',
      100: 'var(--bar)',
      200: 'var(--range)',
      300: 'var(--range)',
      400: 'var(--teal)',
      500: 'var(--teal)',
      600: 'var(--teal)',
      700: 'var(--teal)',
      800: 'var(--teal)',
      900: 'var(--teal)',
      950: 'var(--teal)',
    },
    transitionDuration: '0.12s',
    focusRing: { width: '2px', style: 'solid', color: 'var(--teal)', offset: '1px', shadow: 'none' },
    formField: { paddingX: '0.7rem', paddingY: '0.42rem', borderRadius: '6px' },
    colorScheme: { light: scheme, dark: scheme },
  },
  components: {
    button: { root: { paddingX: '0.95rem', paddingY: '0.5rem', label: { fontWeight: '700' } } },
    datatable: { bodyCell: { padding: '0.3rem 0.6rem' }, headerCell: { padding: '0.35rem 0.6rem' } },
  },
});
