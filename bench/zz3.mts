import { readFileSync } from 'node:fs';
import { decodeAudio } from '../packages/core/src/formats/decode';
import { sliceAudio } from '../packages/core/src/reading/audio';
import { firstPatch } from '../packages/core/src/matching/firstPatch';
import { printProof } from '../packages/core/src/matching/proof';
for (const id of ['harbour-fog','clockwork-tide']) { const s=JSON.parse(readFileSync(`demo/audio/${id}.settings.json`,'utf8')); const a=await decodeAudio(new Uint8Array(readFileSync(`demo/audio/${id}.flac`))); const c=sliceAudio(a,s.exposed.fromSeconds,s.exposed.toSeconds);
 const f=firstPatch(c,id); const p=printProof(f.patch,f.notes,f.reading); console.log(id,JSON.stringify(f.patch.layers[0].amp)); console.log(JSON.stringify({...f.reading.traits.loudness,contour:0})); console.log(JSON.stringify({...p.reading.traits.loudness,contour:0})); for(const g of p.comparison.traits.slice(0,7)) console.log("   ",g.label,g.reference,g.proof,g.gapJnd); console.log(p.comparison.overallJnd); }
