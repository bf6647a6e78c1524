import { readFileSync } from 'node:fs';
import { decodeAudio } from '../packages/core/src/formats/decode';
import { sliceAudio } from '../packages/core/src/reading/audio';
import { measure } from '../packages/core/src/reading/read';
import { plainEnvelope } from '../packages/core/src/reading/level/fitContour';
const id='clockwork-tide'; const s=JSON.parse(readFileSync(`demo/audio/${id}.settings.json`,'utf8')); const a=await decodeAudio(new Uint8Array(readFileSync(`demo/audio/${id}.flac`))); const c=sliceAudio(a,s.exposed.fromSeconds,s.exposed.toSeconds);
const m=measure(c); console.log(m.fundamental, m.level.windowSeconds, m.level.ripple?.periodSeconds, m.fitted);
const r=m.level.rms; console.log(Array.from(r.slice(50,100),x=>x.toFixed(3)).join(' '));
