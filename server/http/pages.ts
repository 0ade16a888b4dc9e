import { randomBytes } from 'node:crypto';
import { readFileSync } from 'node:fs';
import type { IncomingMessage, ServerResponse } from 'node:http';
import { join } from 'node:path';
import express, { type Express, type NextFunction, type Request, type Response } from 'express';
import helmet from 'helmet';

/** Headers of the API's answers. */
const answersGuard = (secure: boolean) =>
  helmet({
    contentSecurityPolicy: { useDefaults: false, directives: { defaultSrc: ["'none'"], frameAncestors: ["'none'"] } },
    strictTransportSecurity: secure,
    crossOriginEmbedderPolicy: false,
  });

/** The same headers as they are sent: they are no others from one answer to the next. */
export function answerHeaders(secure: boolean): Record<string, string> {
  const headers: Record<string, string> = {};
  const response = {
    setHeader: (name: string, value: string) => void (headers[name] = value),
    removeHeader: (name: string) => void delete headers[name],
  };
  answersGuard(secure)({} as IncomingMessage, response as unknown as ServerResponse, (error) => {
    if (error) throw error as Error;
  });
  return headers;
}

/** Headers for everything: a strict Content-Security-Policy, for pages with a nonce for styles made while running. */
export function guard(app: Express, api: string, secure: boolean): void {
  const answers = answersGuard(secure);
  const pagesToo = helmet({
    contentSecurityPolicy: {
      useDefaults: false,
      directives: {
        defaultSrc: ["'none'"],
        scriptSrc: ["'self'"],
        styleSrc: ["'self'", (_q, response) => `'nonce-${(response as Response).locals['nonce'] as string}'`],
        fontSrc: ["'self'"],
        imgSrc: ["'self'", 'data:', 'blob:'],
        connectSrc: ["'self'"],
        workerSrc: ["'self'"],
        manifestSrc: ["'self'"],
        baseUri: ["'self'"],
        formAction: ["'self'"],
        frameAncestors: ["'none'"],
        ...(secure ? { upgradeInsecureRequests: [] } : {}),
      },
    },
    strictTransportSecurity: secure,
    crossOriginEmbedderPolicy: false,
  });
  app.use((request: Request, response: Response, next: NextFunction) => {
    if (request.path.startsWith(`${api}/`)) return answers(request, response, next);
    response.locals['nonce'] = randomBytes(18).toString('base64');
    pagesToo(request, response, next);
  });
}

/** The built web application; any other path gets its page, with the nonce of this answer. */
export function pages(app: Express, folder: string): void {
  const html = readFileSync(join(folder, 'index.html'), 'utf8');
  app.use(express.static(folder, { index: false, immutable: true, maxAge: '1y' }));
  app.get('/{*any}', (_request, response) => {
    response
      .set('Cache-Control', 'no-store')
      .type('html')
      .send(html.replaceAll('NONCE', response.locals['nonce'] as string));
  });
}
