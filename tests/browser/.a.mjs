import { shot, b } from "./.look.mjs";
const go = (n) => async (p) => { await p.getByRole("button",{name:"just notes"}).first().click(); await p.waitForSelector(".turn"); };
await shot("/bench?game=somegone&s1=1&s2=2","sg",[1280,800],go());
await shot("/bench?game=errand&s1=2","er",[390,844],go());
await shot("/bench?game=linewalk&s1=2","lw",[390,844],async p=>{ await p.locator("summary").filter({hasText:"Play"}).first().click().catch(()=>{}); await go()(p);});
await b.close();
