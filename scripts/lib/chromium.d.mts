/** The Chromium in which pages are tested. */
export function testChromium(): string;
/** Installs it where it is missing. */
export function ensureTestChromium(): Promise<void>;
/** Where the Chromium stands that pages are measured and pictured in; it is installed where it is missing. */
export function ensureChromium(): Promise<string>;
