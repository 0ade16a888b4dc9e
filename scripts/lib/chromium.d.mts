/** The Chromium in which pages are tested. */
export function testChromium(): string;
/** Installs it where it is missing. */
export function ensureTestChromium(): Promise<void>;
