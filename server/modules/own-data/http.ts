import { OwnData } from '@contract/own-data';
import type { FileStore } from '../../kernel/files/file-store';
import { route, type Route } from '../../http/route';
import { ownData } from './own-data';

export const ownDataRoutes = (files: FileStore): Route[] => [
  route({
    method: 'get',
    path: '/my/data',
    permission: 'student',
    summary: 'All that is kept of the student who asks and that they may read.',
    answer: OwnData,
    handler: ({ pool, person }) => ownData(pool, files, person),
  }),
];
