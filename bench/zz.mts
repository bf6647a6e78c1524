import { contourSound } from '/work/main/packages/core/test/contourCases';
import * as oldM from '/tmp/base/packages/core/src/reading/level/levelContour';
import * as newL from '/work/main/packages/core/src/reading/level/levelContour';
import * as newF from '/work/main/packages/core/src/reading/level/fitContour';
let seed=+(process.argv[2]??1); const rnd=()=>{seed=(seed*1664525+1013904223)>>>0;return seed/2**32};
const lg=(a:number,b:number)=>a*(b/a)**rnd();
const N=+(process.argv[3]??60); const bad={old:0,new:0}; const T={old:0,new:0}; const C:any={};
for(let i=0;i<N;i++){
 const kind=i%4;
 const a=lg(0.002,kind===1?1:0.3), d=lg(0.05,0.8), h=kind===2?lg(0.05,0.4):0;
 const sdb=kind===3?-60:-[1.5,2,3,6,10,16][Math.floor(rnd()*6)];
 const row={name:'',f0Hz:lg(45,600),attackSeconds:a,holdSeconds:h,decaySeconds:d,sustain:10**(sdb/20),noteOffSeconds:a+h+d*(kind===3?2.5:(1.2+1.3*rnd())),releaseSeconds:lg(0.03,1)};
if(process.env.ONLY&&!process.env.ONLY.split(",").includes(String(i)))continue;
 const snd=contourSound(row as any);
 for(const [n,f] of [['old',(x:any)=>oldM.fitContour(oldM.measureLevel([x],44100,row.f0Hz))],['new',(x:any)=>newF.fitContour(newL.measureLevel([x],44100,row.f0Hz))]] as any){
  const s=performance.now(); const r=f(snd); (T as any)[n]+=performance.now()-s;
  const e=[]; const near=(x:any,y:number,rel:number,abs:number)=>x!=null&&(Math.abs(x-y)<=abs||Math.abs(x/y-1)<=rel);
  if(!near(r.attackSeconds,a,.2,.004))e.push('A '+r.attackSeconds.toFixed(4));
  if(!near(r.decaySeconds,d,.2,.004))e.push('D '+r.decaySeconds.toFixed(3));
  if(!near(r.holdSeconds,h,.2,.02))e.push('H '+r.holdSeconds.toFixed(3));
  if(kind!==3&&!near(r.sustainDb,sdb,0,1.5))e.push('S '+r.sustainDb.toFixed(1));
  if(kind!==3&&!near(r.releaseSeconds,row.releaseSeconds,.2,.004))e.push('R '+r.releaseSeconds?.toFixed(3));
  if(kind===3&&r.releaseSeconds!==null&&r.releaseSeconds)e.push('R! '+r.releaseSeconds);
  (bad as any)[n]+=e.length;
  if(e.length)console.log(n,i,`k${kind} f${row.f0Hz.toFixed(0)} A${a.toFixed(4)} H${h.toFixed(3)} D${d.toFixed(3)} S${sdb} off${row.noteOffSeconds.toFixed(2)} R${row.releaseSeconds.toFixed(3)}`,e.join(' '),'err',r.errorDb.toFixed(2));
 }}
console.log(bad,T);
