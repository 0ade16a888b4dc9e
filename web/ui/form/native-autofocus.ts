import { AutoFocus } from 'primeng/autofocus';

/**
 * PrimeNG gives the attribute `autofocus` to each control that was told nothing about it, and the browser then gives the keys
 * to whichever it draws first after a load. A control that is told to take them calls `focus`, for which no attribute is needed.
 */
export function withoutNativeAutofocus(): void {
  AutoFocus.prototype.onAfterContentChecked = function (this: AutoFocus) {
    if (!this.focused) this.autoFocus();
  };
}
