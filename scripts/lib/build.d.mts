export function build(): Promise<void>;
