/** What of an assessment's settings says whether whose work it is can be read. */
export interface NamesSettings {
  /** It is marked without names. */
  namesHidden?: boolean;
  /** They were shown, for all at once. */
  namesShown?: boolean;
}

/** It is not said whose work is whose. */
export const areNamesHidden = ({ namesHidden, namesShown }: NamesSettings): boolean =>
  namesHidden === true && namesShown !== true;

/** The settings of a copy, or of work that is told apart anew: names that were shown are hidden again. */
export const forgetShownNames = <S extends NamesSettings>({
  namesShown: _shown,
  ...settings
}: S): Omit<S, 'namesShown'> => settings;
