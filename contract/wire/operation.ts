import { v7 } from 'uuid';

/**
 * A new id for one write (RFC 9562, version 7: the moment first, then chance). Ids that are made one after the other lie
 * side by side in the journal's index, where those of chance alone would touch another page of it for every line.
 */
export const newOperation = (): string => v7();
