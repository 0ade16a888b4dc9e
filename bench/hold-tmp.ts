import { startBenchServer } from './server';
const s = await startBenchServer();
console.log(JSON.stringify({address: s.address, login: s.login, password: s.password}));
process.on('SIGINT', async () => { await s.stop(); process.exit(0); });
setInterval(()=>{}, 1e6);
