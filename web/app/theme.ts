import { definePreset } from '@primeuix/themes';
import base from '@primeuix/themes/aura/base';
import badge from '@primeuix/themes/aura/badge';
import button from '@primeuix/themes/aura/button';
import checkbox from '@primeuix/themes/aura/checkbox';
import chip from '@primeuix/themes/aura/chip';
import datatable from '@primeuix/themes/aura/datatable';
import datepicker from '@primeuix/themes/aura/datepicker';
import dialog from '@primeuix/themes/aura/dialog';
import iconfield from '@primeuix/themes/aura/iconfield';
import inputnumber from '@primeuix/themes/aura/inputnumber';
import inputtext from '@primeuix/themes/aura/inputtext';
import multiselect from '@primeuix/themes/aura/multiselect';
import paginator from '@primeuix/themes/aura/paginator';
import popover from '@primeuix/themes/aura/popover';
import radiobutton from '@primeuix/themes/aura/radiobutton';
import ripple from '@primeuix/themes/aura/ripple';
import select from '@primeuix/themes/aura/select';
import selectbutton from '@primeuix/themes/aura/selectbutton';
import slider from '@primeuix/themes/aura/slider';
import textarea from '@primeuix/themes/aura/textarea';
import togglebutton from '@primeuix/themes/aura/togglebutton';
import tooltip from '@primeuix/themes/aura/tooltip';

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
    borderColor: 'var(--pencil)',
    hoverBorderColor: 'var(--ink)',
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

/** Aura, of the controls that the pages use and those that stand in them. One more is to be named here too. */
const aura = {
  ...base,
  components: {
    badge,
    button,
    checkbox,
    chip,
    datatable,
    datepicker,
    dialog,
    iconfield,
    inputnumber,
    inputtext,
    multiselect,
    paginator,
    popover,
    radiobutton,
    ripple,
    select,
    selectbutton,
    slider,
    textarea,
    togglebutton,
    tooltip,
  },
};

export const preset = definePreset(aura, {
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
    // A field that the keys come to shows so at once: each frame of a change is work that the next key waits for.
    formField: { paddingX: '0.6rem', paddingY: '0.34rem', borderRadius: '5px', transitionDuration: '0s' },
    colorScheme: { light: scheme, dark: scheme },
  },
  components: {
    // A field in a sentence is not as tall as the sentence's lines.
    inputtext: { css: '.p-inputtext { line-height: 1.4; }' },
    // What day it is says the school's clock, not the machine's.
    datepicker: {
      css: '.p-datepicker-today > .p-datepicker-day:not(.p-datepicker-day-selected) { background: none; color: inherit; }',
    },
    // One frame around a calendar that a field opens, not two.
    popover: { css: '.p-popover .p-datepicker-panel { border: 0; padding: 0; }' },
    checkbox: { css: '.p-checkbox { vertical-align: middle; }' },
    multiselect: { css: '.p-multiselect { line-height: 1.4; vertical-align: middle; }' },
    // A field that is a word of a sentence: no box, and it wraps as the words around it do.
    select: {
      css: `
        .p-select { line-height: 1.4; }
        .p-select.inline { display: inline; border: 0; border-bottom: 1px dotted var(--teal); border-radius: 0; background: none; box-shadow: none; }
        .p-select.inline .p-select-label { display: inline; padding: 0; color: var(--teal); font: inherit; font-weight: 700; white-space: normal; overflow: visible; text-overflow: clip; }
        .p-select.inline .p-select-dropdown { display: none; }
        .p-select.inline.p-focus { outline: 2px solid var(--teal); outline-offset: 1px; }
        .changed .p-select.inline { border-bottom-color: var(--plum); background: var(--plum-wash); }
        .changed .p-select.inline .p-select-label { color: var(--plum); }
        .p-select.inline.p-disabled { border-bottom-color: transparent; opacity: 1; }
        .p-select.inline.p-disabled .p-select-label { color: inherit; }
      `,
    },
    // It lies over what it is a place in: a recording's waveform.
    slider: {
      track: { background: 'transparent', size: '24px' },
      range: { background: 'transparent' },
      handle: {
        width: '3px',
        height: '24px',
        borderRadius: '2px',
        background: 'var(--teal)',
        hoverBackground: 'var(--teal)',
        content: {
          width: '3px',
          height: '24px',
          borderRadius: '2px',
          background: 'var(--teal)',
          hoverBackground: 'var(--teal)',
          shadow: 'none',
        },
      },
    },
    button: { root: { paddingX: '0.95rem', paddingY: '0.5rem', label: { fontWeight: '700' } } },
    datatable: {
      // A table lies on whatever it lies on.
      row: { background: 'transparent' },
      bodyCell: { padding: '0.3rem 0.6rem' },
      headerCell: { padding: '0.35rem 0.6rem', background: 'transparent' },
    },
  },
});
