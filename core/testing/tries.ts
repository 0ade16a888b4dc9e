/** How many random books a property looks at: of `all`, which `npm run test:long` takes, a tenth in `npm test`. */
export const tries = (all: number): number => (process.env['LONG'] ? all : Math.ceil(all / 10));
