import * as Comlink from 'comlink';
import { createHelper } from '@imprint/core/matching/search/helper';

Comlink.expose(createHelper());
