import { surroundedTones } from './matching/surrounded';
await surroundedTones(Number(process.env.SEED));
