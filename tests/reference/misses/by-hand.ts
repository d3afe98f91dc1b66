/**
 * Mistypings of the demo's addresses made by hand, as people of the trade report them (common practice, no source):
 * what
 * was typed, under which host, and the slug that was meant.
 */
const A = 'ansl.example'
const G = 'go.portansel.example'
const LINES = `
fraes fares|farse fares|fars fares|faress fares|fares. fares|FARES, fares|fares) fares|fares/index.html fares
fares.html fares
faers fares|dares fares|gares fares|fafes fares|fares%20 fares|fares%E2%80%9D fares|fare5 fares|fsres fares
farrs fares
nigth night|nihgt night|nite night|nght night|night! night|nught night|nigjt night|knight night|nigh night|n1ght night
night/N14. night/N14|night-N14 night/N14|nightN14 night/N14|night/n-14 night/N14|night/N1O night/N10
night/N2, night/N2
nacht/N14 night/N14|night/N07 night/N7|night%2FN3 night/N3|night%252FN3 night/N3|nights/N4 night/N4|nigth/N5 night/N5
appp app|app. app|ap app|aap app|app/download app|the-app app|app, app|ansel-app app|app! app|APP) app
stop/4417. stop/4417|stop/44l7 stop/4417|stops/4417 stop/4417|stop4417 stop/4417|stop-4417 stop/4417
stop/4417) stop/4417
st0p/4417 stop/4417|sotp/4417 stop/4417|stop/44177 stop/4417|halt/4417 stop/4417|stop//4417 stop/4417
4417 stop/4417|stop/4417?x stop/4417|stop/4417-timetable stop/4417|stop_4417 stop/4417|stopp/4417 stop/4417
strop/4417 stop/4417|/stop/4417 stop/4417|top/4417 stop/4417|stop.4417 stop/4417|stop/4417... stop/4417
times. times|tiems times|tmies times|timse times|time times|timess times|timez times|tumes times|timed times
mpa map|maps map|map. map|mao map|ma[ map|mapp map|map) map|m-a-p map|map.pdf map
carrd card|crad card|card. card|vard card|card, card|caard card|ansel-card card|card%20for card|card! card
cards. cards
regata regatta|regatta. regatta|reggata regatta|regaatta regatta|regattta regatta|regatta2026 regatta|ragatta regatta
winter. winter|wintr winter|wniter winter|winetr winter|wimter winter|winter, winter|wintar winter|winterr winter
delays delay|dleay delay|delay. delay|deley delay|dellay delay|delay! delay|delay/today delay|dalay delay
acess access|acces access|access. access|accesss access|axcess access|acsess access|acccess access
scool school|shcool school|school. school|skool school|schol school|schoool school|school-pass school
muesum museum|museum. museum|musem museum|museun museum|musuem museum|musseum museum
opendata open-data|open_data open-data|open-data. open-data|open%20data open-data|data-open open-data
opne-data open-data
park-n-ride park-ride|park_ride park-ride|ride-park park-ride|parc-ride park-ride|park-rlde park-ride
tarif tariff|tarrif tariff|tariff. tariff|tarriff tariff|tariif tariff|tariff! tariff
festval festival|festivel festival|festival. festival|fetsival festival|festivall festival
libary library|librery library|library. library|lbrary library|libraray library
line/seven line/7|line-12 line/12|lines/12 line/12|line12 line/12|linie/12 line/12|line/12. line/12|Line%2012 line/12`
const BESIDE_LINES = `
fery ferry|ferrry ferry|ferry. ferry|feryr ferry|frery ferry|ferrys ferry|fetry ferry|ferri ferry|ferry) ferry
ferrytimes ferry-times|ferry_times ferry-times|times-ferry ferry-times|ferry-time ferry-times|fery-times ferry-times
lsot lost|lost. lost|losst lost|l0st lost|lost, lost|bike/7 bike/007|bike/O12 bike/012|bikes/012 bike/012
bike-012 bike/012
newss news|news. news|mews news|nwes news|drive. drive|dirve drive|pier4 pier-4|pier_4 pier-4|pier-four pier-4`

const read = (host: string, lines: string) =>
  lines
    .split(/[|\n]/)
    .filter((line) => line !== '')
    .map((line) => {
      const [typed, meant] = line.split(' ') as [string, string]
      return { host, typed, meant }
    })

export const BY_HAND = [...read(A, LINES), ...read(G, BESIDE_LINES)]
