// At least 300 pairs of slugs, made up, each labelled by hand: whether a person could take one for the other. Slugs of
// a series (stop/4417, stop/4418) are not a mistake but a neighbour (common practice, no source).

const CONFUSED = `
fares fare|fares farse|fares faers|night nite|night nights|night nigth|night niht|night n1ght|card cards|
card crad|lift lifts|lift litf|map maps|map mpa|jobs Jobs|jobs job|press pres|press Press
ferry fery|ferry fetry|ferry ferru|ferry-times ferrytimes|ferry-times ferry_times|ferry-times ferry-time|
park-ride parkride|park-ride park.ride|park-ride park-rid|park-ride parl-ride|open-data opendata|open-data open-date
stop/4417 stop/44l7|stop/4417 stop/44I7|stop/4410 stop/441O|stop/4410 stop/441o|stop/4417 stap/4417|
stop/4417 stops/4417|stop/4417 stop/4417a|stop/4417 stp/4417|line/l1 line/11|line/10 line/lo|zone3 zome3|zone3 zone-3
bike bikes|bike bkie|bike bile|hire hires|hire hirr|docks dock|docks docsk|refund refunds|refund refnud|
school schools|school schol|school schoool|regatta regata|regatta regattta|museum museums|museum musuem|museum musem
winter winters|winter wimter|summer sumer|summer summmer|summer surnmer|modern rnodern|tariff tarif|
tariff tarriff|tariff tarif1f|access acces|access acess|access accesss|survey survay|survey suvey|panel panels|
panel pannel|prize price|prize prise
harbour harbor|harbour harbuor|harbour harboor|centre center|centre centr|timetable timetables|
timetable timetabel|timetable tirnetable|timetable time-table|pass-office passoffice|help-desk helpdesk|
help-desk help_desk|lost-property lostproperty
quay-o quay-0|quay-1 quay-l|pier-i pier-1|pier-l pier-1|gate-o gate-0|gull gul1|quay key|hall hal1|bill b1ll|
toll to11|cool c00l|loop lo0p|oil o1l|lll 111|app apps|app aap|ticket tickets|ticket tikcet|ticket ticlet
news new|news nwes|drive drives|drive drvie|delay delays|delay dealy|delay dleay|late latte|boat boats|
boat baot|snow snows|snow sonw|annual anual|annual annaul|visit visits|visit visti|cafe caffe|cafe cape|
tram trams|tram tarm
a-b-c abc|a.b a-b|a_b ab|go/press go/pres|go/press gp/press|go/fares g0/fares|go/hi go/hl|bus buss|bus bsu|
bus bud|stand stands|stand satnd|route routes|route rout|route ruote|plan plans|plan paln|plan plam
fares fаres|phone fone|cafe сafe|spring sprign|spring spring1|autumn autum|autumn autumm|easter eastre|
easter easters|holiday holidy|holiday holidays|market markets|market markte|works work|works wroks|
signal signals|signal singal|notice notices|notice notcie|notice notive|permit permits|permit pemrit|
locker lockers|locker loker|locker l0cker|desk-1 desk-l|hub-o hub-0
`
const APART = `
fares night|fares ferry|fares refund|stop/4417 stop/4418|stop/4417 stop/4471|stop/4417 stop/441|
stop/4417 stop/44170|stop/1 stop/2|line/4 line/5|line/4 line/14|line/12 line/21|bike/001 bike/002|
bike/001 bike/100|zone1 zone2|zone1 zone12
spring25 spring26|spring25 spring52|summer25 summer24|works/pier-4 works/pier-5|works/pier-4 works/pier-14|
works/tidewater-1 works/tidewater-11|survey/1 survey/2|survey/9 survey/10|night/N1 night/N2|night/N1 night/N11|
w1-2027 w2-2027|w1-2027 w1-2028
a/b ab|1-2 12|zone-1-2 zone-12|visit/2-1 visit/21|go/fares fares|press/go go/press|map app|map times|card lift|
jobs news|bike boat|park ride|park-ride ride-park|open-data data|tariff traffic|access across|school stool|
museum mausoleum
winter summer|winter winner-cup|autumn spring|late early|delay today|snow show-times|annual manual-2|visit exit|
tram team-a|bus boss-2|route root-2|plan plane-tree|harbour arbour-walk|centre entrance|timetable table|
help kelp-farm|gate-1 gate-2
gate-10 gate-100|quay-1 quay-7|pier-2 pier-3|hall-3 hall-8|stand-1 stand-9|platform/1 platform/2|
platform/11 platform/12|route/101 route/110|route/7 route/77|day/2026-01-01 day/2026-01-02|
day/2026-01-01 day/2026-10-01|v1 v2|v1.0 v1.1|v1.0 v2.0
lost found|lost-property property|help-desk desk|ferry-times times|ferry-times ferry|regatta regatta-map|
regatta-map regatta-plan|fares-2026 fares-2027|prize panel|survey press|cafe menu|market museum|signal single-2|
holiday holly-day-2|easter west-gate
stop/44a stop/55b|line/4a line/9z|night/n1 night/w9|kiosk kayak|depot report|bridge ridge-way|
tunnel funnel-cake|north south|east west-end|upper lower|custom-house old-house|mint mill-basin|gull bull-ring|
chandler handler-7|orchard archer-2|weaver leaver-3
blue-line red-line|green-line blue-line|line-red line-blue|adult child|single return|day week|week month|
month year|zone-a/1 zone-a/2|zone-a/1 zone-a/3|a1 a2|b12 b21|c3po c4po|x100 x200|2025 2026|20 200|1 2|77 777|
404 405|notice motion|permit summit|locker rocket-2|desk-1 desk-2|hub-1 hub-4
`

export interface Labelled {
  a: string
  b: string
  confused: boolean
}

const read = (text: string, confused: boolean): Labelled[] =>
  text
    .split(/[|\n]/)
    .map((line) => line.trim())
    .filter((line) => line !== '')
    .map((line) => {
      const [a, rest] = line.split(' ') as [string, string]
      return { a, b: rest.replace(/\?no$/, ''), confused: rest.endsWith('?no') ? false : confused }
    })

export const LABELLED: readonly Labelled[] = [...read(CONFUSED, true), ...read(APART, false)]
