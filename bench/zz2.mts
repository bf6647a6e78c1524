import { readFileSync } from 'node:fs';
import { decodeAudio } from '../packages/core/src/formats/decode';
import { sliceAudio } from '../packages/core/src/reading/audio';
import { times, voices } from '../packages/core/test/effects';
import * as oldM from '/tmp/base/packages/core/src/reading/level/levelContour';
import * as newL from '/work/main/packages/core/src/reading/level/levelContour';
import * as newF from '/work/main/packages/core/src/reading/level/fitContour';
const show=(n:string,chs:any,f0:number)=>{ for(const [k,f] of [['old',()=>oldM.fitContour(oldM.measureLevel(chs,44100,f0))],['new',()=>newF.fitContour(newL.measureLevel(chs,44100,f0))]] as any) console.log(n,k,JSON.stringify(f(),(kk,v)=>typeof v==='number'?+v.toFixed(4):v)) };
show('one',[Float64Array.from(times(voices({ f0Hz: 220, seconds: 1.5 }), (t) => Math.min(1, t / 0.01)))],220);
for (const id of ['harbour-fog','gull-over-rail','lantern-stairs','clockwork-tide']) { const s=JSON.parse(readFileSync(`demo/audio/${id}.settings.json`,'utf8')); const a=await decodeAudio(new Uint8Array(readFileSync(`demo/audio/${id}.flac`))); const c=sliceAudio(a,s.exposed.fromSeconds,s.exposed.toSeconds); console.log(s.exposed, JSON.stringify(s).slice(0,600)); show(id,c.channels,440*2**((s.melody[0].midi-69)/12)); }
