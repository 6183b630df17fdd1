// Writes the demo shop's goods, shoppers, codes and redemptions as CSV. Seeded: the same files every time.
// Settings, promotions and carts beside them are written by hand, in the form in which shops are taken along (docs/own-shop.md).
// Run by hand after a change: node demo/make.mjs
import { mkdirSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

const here = dirname(fileURLToPath(import.meta.url));
let seed = 20270305;
const random = () => {
  // Mulberry32.
  seed = (seed + 0x6d2b79f5) | 0;
  let t = Math.imul(seed ^ (seed >>> 15), 1 | seed);
  t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
  return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
};
const pick = (list) => list[Math.floor(random() * list.length)];
const between = (low, high) => low + Math.floor(random() * (high - low + 1));

const csv = (name, header, rows) => {
  const cell = (value) => (/[",\n]/.test(String(value)) ? `"${String(value).replaceAll('"', '""')}"` : String(value ?? ''));
  writeFileSync(join(here, name), [header, ...rows].map((row) => row.map(cell).join(',')).join('\n') + '\n');
};

// id, name, parent
const categories = [
  ['wheels', 'Wheels and tyres', ''],
  ['tyres', 'Tyres', 'wheels'],
  ['tubes', 'Inner tubes', 'wheels'],
  ['rims', 'Rims and hubs', 'wheels'],
  ['bags', 'Bags', ''],
  ['panniers', 'Panniers', 'bags'],
  ['barbags', 'Handlebar and frame bags', 'bags'],
  ['racks', 'Racks', 'bags'],
  ['lights', 'Lights', ''],
  ['tools', 'Tools', ''],
  ['helmets', 'Helmets', ''],
  ['clothing', 'Clothing', ''],
  ['jerseys', 'Jerseys', 'clothing'],
  ['rain', 'Rain wear', 'clothing'],
  ['gloves', 'Gloves', 'clothing'],
  ['care', 'Care', ''],
  ['drivetrain', 'Drivetrain', ''],
  ['reading', 'Books and maps', ''],
  ['extras', 'Extras', ''],
];

const tyreSizes = ['28-622', '32-622', '37-622', '42-622', '47-584'];
const tubeSizes = ['28', '32', '38', '47'];
const colours = ['black', 'moss', 'ochre', 'slate'];
const sizes = ['S', 'M', 'L', 'XL'];

// name, category, brand, regular price, share of it that is cost, grams, tags, option name, option values, share of the price it is reduced by
const goods = [
  ['Fell tyre', 'tyres', 'Harrow', 34.9, 0.52, 420, 'road', 'size', tyreSizes],
  ['Moor tyre', 'tyres', 'Harrow', 42.5, 0.53, 560, 'gravel', 'size', tyreSizes],
  ['Drove tyre', 'tyres', 'Harrow', 29.9, 0.5, 610, 'touring', 'size', tyreSizes],
  ['Causeway tyre', 'tyres', 'Velt', 38, 0.55, 700, 'touring|puncture', 'size', tyreSizes],
  ['Holloway tyre', 'tyres', 'Velt', 46.9, 0.56, 520, 'gravel', 'size', tyreSizes],
  ['Winterlane studded tyre', 'tyres', 'Velt', 59, 0.58, 890, 'winter', 'size', ['32-622', '37-622', '42-622'], 0.2],
  ['Inner tube', 'tubes', 'Velt', 6.9, 0.3, 140, 'light', 'size', tubeSizes],
  ['Inner tube, long valve', 'tubes', 'Velt', 7.5, 0.3, 150, '', 'size', tubeSizes],
  ['Feather tube', 'tubes', 'Harrow', 14.9, 0.38, 60, 'light', 'size', tubeSizes],
  ['Tough tube', 'tubes', 'Harrow', 9.9, 0.34, 230, 'puncture', 'size', tubeSizes],
  ['Tubeless kit', 'tubes', 'Velt', 24.5, 0.42, 180, '', 'size', ['21', '25', '30']],
  ['Rim tape', 'rims', 'Velt', 4.5, 0.25, 20, '', 'width', ['18', '22', '26']],
  ['Touring rim', 'rims', 'Harrow', 54, 0.55, 560, 'touring', 'holes', ['32', '36']],
  ['Dynamo hub', 'rims', 'Glim', 129, 0.6, 680, 'touring', 'holes', ['32', '36']],
  ['Rear hub', 'rims', 'Harrow', 79, 0.57, 390, '', 'holes', ['32', '36']],
  ['Spoke set', 'rims', 'Harrow', 28, 0.45, 260, '', 'length', ['286', '290', '294']],
  ['Valve stems', 'rims', 'Velt', 12, 0.3, 14, '', 'length', ['44', '60']],
  ['Drover pannier', 'panniers', 'Stoat', 64.9, 0.5, 940, 'touring|waterproof', 'colour', colours],
  ['Drover pannier, small', 'panniers', 'Stoat', 54.9, 0.5, 760, 'touring|waterproof', 'colour', colours],
  ['Packman pannier', 'panniers', 'Stoat', 89, 0.52, 1120, 'touring', 'colour', colours],
  ['Commuter pannier', 'panniers', 'Ousel', 79.5, 0.54, 1050, 'city', 'colour', ['black', 'moss', 'slate']],
  ['Market pannier', 'panniers', 'Ousel', 49.9, 0.5, 820, 'city', 'colour', ['ochre', 'slate'], 0.3],
  ['Bar bag', 'barbags', 'Stoat', 58, 0.5, 520, 'touring', 'colour', colours],
  ['Bar roll', 'barbags', 'Stoat', 44, 0.48, 380, 'gravel', 'colour', ['black', 'moss']],
  ['Frame bag', 'barbags', 'Stoat', 52, 0.49, 340, 'gravel', 'size', sizes.slice(0, 3)],
  ['Top-tube pouch', 'barbags', 'Ousel', 24.9, 0.4, 120, '', 'colour', ['black', 'ochre']],
  ['Saddle bag', 'barbags', 'Ousel', 36, 0.45, 290, '', 'size', ['S', 'L']],
  ['Tool roll', 'barbags', 'Ousel', 22, 0.4, 160, 'gift', 'colour', ['black', 'moss', 'ochre']],
  ['Rear rack', 'racks', 'Wether', 59, 0.5, 720, 'touring', 'colour', ['black', 'silver']],
  ['Expedition rack', 'racks', 'Wether', 98, 0.55, 890, 'touring', 'colour', ['black']],
  ['Front rack', 'racks', 'Wether', 64, 0.52, 610, '', 'colour', ['black', 'silver']],
  ['Low-rider', 'racks', 'Wether', 72, 0.53, 560, 'touring', 'colour', ['black', 'silver']],
  ['Basket', 'racks', 'Ousel', 39, 0.46, 980, 'city', 'size', ['M', 'L']],
  ['Rack strap', 'racks', 'Wether', 9.5, 0.3, 90, 'gift', 'colour', ['black', 'ochre']],
  ['Front light 40', 'lights', 'Glim', 39.9, 0.45, 110, 'lithium', 'colour', ['black']],
  ['Front light 80', 'lights', 'Glim', 69.9, 0.5, 140, 'lithium', 'colour', ['black', 'silver']],
  ['Dynamo front light', 'lights', 'Glim', 84, 0.54, 130, 'touring', 'colour', ['black', 'silver']],
  ['Rear light', 'lights', 'Glim', 24.9, 0.42, 60, 'lithium', 'colour', ['black']],
  ['Rear light for racks', 'lights', 'Glim', 29.9, 0.44, 80, 'touring', 'colour', ['black']],
  ['Light set', 'lights', 'Glim', 54.9, 0.5, 170, 'lithium', 'colour', ['black', 'silver'], 0.1],
  ['Helmet light', 'lights', 'Glim', 32, 0.45, 70, 'lithium', 'colour', ['black']],
  ['Lantern', 'lights', 'Ousel', 27.5, 0.4, 210, 'camp', 'colour', ['ochre', 'slate']],
  ['Multi-tool 9', 'tools', 'Tarn', 19.9, 0.38, 120, 'gift', 'functions', ['9']],
  ['Multi-tool 17', 'tools', 'Tarn', 34.9, 0.42, 180, '', 'functions', ['17']],
  ['Tyre levers', 'tools', 'Tarn', 5.9, 0.22, 40, '', 'colour', ['ochre', 'black']],
  ['Mini pump', 'tools', 'Tarn', 28, 0.42, 130, '', 'colour', ['black', 'silver']],
  ['Track pump', 'tools', 'Tarn', 49, 0.5, 1500, '', 'colour', ['slate']],
  ['Chain tool', 'tools', 'Tarn', 16.5, 0.35, 140, '', 'colour', ['black']],
  ['Spoke key', 'tools', 'Tarn', 8.9, 0.28, 45, '', 'gauge', ['3.2', '3.4']],
  ['Torque key', 'tools', 'Tarn', 59, 0.52, 320, '', 'range', ['4-6 Nm', '2-14 Nm']],
  ['Work stand', 'tools', 'Tarn', 169, 0.62, 5400, 'heavy', 'colour', ['slate']],
  ['Patch kit', 'tools', 'Velt', 4.9, 0.2, 30, 'gift', 'pieces', ['6', '12']],
  ['Cassette tool', 'tools', 'Tarn', 14.9, 0.34, 110, '', 'speeds', ['8-11', '12']],
  ['Cairn helmet', 'helmets', 'Larkrise', 79, 0.5, 290, 'city', 'size and colour', ['S black', 'M black', 'L black', 'S ochre', 'M ochre', 'L ochre']],
  ['Ridge helmet', 'helmets', 'Larkrise', 119, 0.54, 260, 'road', 'size and colour', ['S slate', 'M slate', 'L slate', 'M moss', 'L moss']],
  ['Beck helmet, children', 'helmets', 'Larkrise', 49, 0.48, 240, '', 'size', ['XS', 'S']],
  ['Commuter helmet', 'helmets', 'Larkrise', 95, 0.53, 340, 'city', 'size', ['M', 'L'], 0.15],
  ['Merino jersey', 'jerseys', 'Kestrel', 89, 0.5, 240, 'merino', 'size and colour', ['S moss', 'M moss', 'L moss', 'XL moss', 'M slate', 'L slate']],
  ['Touring jersey', 'jerseys', 'Kestrel', 64, 0.48, 210, 'touring', 'size', sizes],
  ['Club jersey', 'jerseys', 'Kestrel', 72, 0.5, 200, 'club', 'size', sizes],
  ['Long-sleeved jersey', 'jerseys', 'Kestrel', 84, 0.5, 280, 'winter', 'size', sizes, 0.25],
  ['Wind vest', 'jerseys', 'Kestrel', 59, 0.47, 130, '', 'size', sizes],
  ['Rain jacket', 'rain', 'Larkrise', 149, 0.55, 420, 'waterproof', 'size and colour', ['S ochre', 'M ochre', 'L ochre', 'M slate', 'L slate', 'XL slate']],
  ['Rain trousers', 'rain', 'Larkrise', 79, 0.5, 320, 'waterproof', 'size', sizes],
  ['Overshoes', 'rain', 'Larkrise', 42, 0.45, 180, 'waterproof', 'size', ['38-40', '41-43', '44-46']],
  ['Rain cape', 'rain', 'Ousel', 69, 0.48, 460, 'waterproof|city', 'size', ['M', 'L']],
  ['Summer gloves', 'gloves', 'Kestrel', 29, 0.42, 70, '', 'size', sizes],
  ['Winter gloves', 'gloves', 'Kestrel', 49, 0.46, 140, 'winter', 'size', sizes, 0.3],
  ['Long-finger gloves', 'gloves', 'Kestrel', 36, 0.44, 90, '', 'size', sizes],
  ['Warm socks', 'gloves', 'Kestrel', 18, 0.35, 80, 'merino|gift', 'size', ['36-40', '41-45']],
  ['Neck tube', 'gloves', 'Kestrel', 16, 0.3, 50, 'merino|gift', 'colour', colours],
  // Its maker asks so much since autumn that a workshop's terms and the volume price together lie below it.
  ['Chain oil', 'care', 'Tarn', 8.9, 0.795, 130, '', 'volume', ['50 ml', '100 ml']],
  ['Chain wax', 'care', 'Tarn', 14.9, 0.32, 140, '', 'volume', ['120 ml']],
  ['Bicycle soap', 'care', 'Tarn', 7.9, 0.26, 1050, '', 'volume', ['1 l']],
  ['Degreaser', 'care', 'Tarn', 9.9, 0.28, 520, '', 'volume', ['500 ml']],
  ['Brush set', 'care', 'Tarn', 17.5, 0.34, 260, '', 'pieces', ['4']],
  ['Leather balm', 'care', 'Wether', 11.9, 0.3, 90, 'gift', 'volume', ['50 ml']],
  ['Sealant', 'care', 'Velt', 13.9, 0.33, 260, '', 'volume', ['200 ml', '500 ml']],
  ['Chain 9', 'drivetrain', 'Harrow', 24.9, 0.48, 290, '', 'links', ['114']],
  ['Chain 11', 'drivetrain', 'Harrow', 36.9, 0.5, 260, '', 'links', ['116']],
  ['Chain 12', 'drivetrain', 'Harrow', 44.9, 0.52, 250, '', 'links', ['118']],
  ['Cassette 9', 'drivetrain', 'Harrow', 39, 0.5, 340, '', 'teeth', ['11-32', '11-34', '12-36']],
  ['Cassette 11', 'drivetrain', 'Harrow', 64, 0.53, 390, '', 'teeth', ['11-34', '11-42']],
  ['Brake pads', 'drivetrain', 'Wether', 12.9, 0.32, 40, '', 'type', ['rim', 'disc resin', 'disc metal']],
  ['Brake cable set', 'drivetrain', 'Wether', 16.9, 0.34, 110, '', 'colour', ['black', 'slate']],
  ['Gear cable set', 'drivetrain', 'Wether', 17.9, 0.34, 100, '', 'colour', ['black', 'slate']],
  ['Touring pedals', 'drivetrain', 'Wether', 49.9, 0.5, 380, 'touring', 'colour', ['black', 'silver']],
  ['Leather saddle', 'drivetrain', 'Wether', 119, 0.56, 530, 'touring', 'colour', ['honey', 'black']],
  ['Gel saddle', 'drivetrain', 'Ousel', 44, 0.47, 460, 'city', 'colour', ['black']],
  ['Bar tape', 'drivetrain', 'Wether', 19.9, 0.36, 90, '', 'colour', ['black', 'honey', 'moss']],
  ['Grips', 'drivetrain', 'Wether', 24.9, 0.38, 160, '', 'colour', ['black', 'honey']],
  ['Moor map, north', 'reading', 'Kestrelmoor', 9.8, 0.4, 70, 'gift|printed', 'edition', ['2027']],
  ['Moor map, south', 'reading', 'Kestrelmoor', 9.8, 0.4, 70, 'gift|printed', 'edition', ['2027']],
  ['River route map', 'reading', 'Kestrelmoor', 12.8, 0.42, 90, 'printed', 'edition', ['2026', '2027']],
  ['Coast route map', 'reading', 'Kestrelmoor', 12.8, 0.42, 90, 'printed', 'edition', ['2027']],
  ['Touring handbook', 'reading', 'Kestrelmoor', 24, 0.5, 480, 'printed', 'language', ['German', 'English']],
  ['Wheelbuilding by hand', 'reading', 'Kestrelmoor', 29, 0.52, 540, 'printed', 'language', ['German', 'English']],
  ['Hundred lanes', 'reading', 'Kestrelmoor', 19.9, 0.48, 390, 'printed', 'language', ['German', 'English']],
  ['Repair cards', 'reading', 'Kestrelmoor', 14.5, 0.45, 120, 'printed|gift', 'language', ['German', 'English']],
  ['Brass bell', 'extras', 'Glim', 16, 0.36, 90, 'gift', 'size', ['22.2', '31.8']],
  ['Bottle', 'extras', 'Ousel', 8.5, 0.26, 80, 'gift', 'colour', colours],
  ['Insulated bottle', 'extras', 'Ousel', 24.5, 0.4, 240, '', 'colour', ['moss', 'slate']],
  ['Bottle cage', 'extras', 'Wether', 14, 0.34, 60, '', 'colour', ['black', 'silver']],
  ['Mudguards', 'extras', 'Wether', 44, 0.48, 560, 'touring', 'width', ['45', '55', '65']],
  ['Kickstand', 'extras', 'Wether', 26, 0.4, 340, 'city', 'colour', ['black', 'silver']],
  ['Mirror', 'extras', 'Ousel', 19, 0.36, 110, '', 'side', ['left', 'right']],
  ['Folding lock', 'extras', 'Wether', 69, 0.52, 1100, 'city', 'length', ['85 cm', '110 cm']],
  ['Cable lock', 'extras', 'Wether', 24, 0.4, 480, '', 'length', ['120 cm']],
  ['Phone mount', 'extras', 'Ousel', 29.9, 0.42, 90, '', 'colour', ['black']],
  ['Reflective bands', 'extras', 'Ousel', 9.9, 0.28, 40, 'gift', 'colour', ['silver', 'ochre']],
  ['Child seat', 'extras', 'Larkrise', 129, 0.58, 4200, 'heavy', 'colour', ['slate', 'moss']],
  ['Trailer', 'extras', 'Larkrise', 399, 0.66, 12800, 'heavy', 'colour', ['ochre', 'slate']],
  ['Cargo net', 'extras', 'Ousel', 12.5, 0.3, 110, '', 'size', ['M', 'L']],
  ['Camp stove', 'extras', 'Ousel', 58, 0.5, 340, 'camp', 'fuel', ['spirit', 'gas']],
  ['Cook set', 'extras', 'Ousel', 46, 0.48, 520, 'camp', 'persons', ['1', '2']],
  ['Gift voucher card', 'extras', 'Kestrelmoor', 25, 1, 10, 'voucher', 'value', ['25']],
];

const slug = (text) => text.toLowerCase().replaceAll(/[^a-z0-9]+/g, '-').replaceAll(/^-|-$/g, '');
// The first two words of a name, or as many as tell it from those before it.
const stems = new Set();
const stem = (name) => {
  const words = slug(name).toUpperCase().split('-');
  let count = 2;
  while (stems.has(words.slice(0, count).join('-')) && count < words.length) count += 1;
  stems.add(words.slice(0, count).join('-'));
  return words.slice(0, count).join('-');
};
const money = (cents) => (cents / 100).toFixed(2);

const wear = ['slate', 'moss', 'ochre'];
const items = [];
for (const [name, category, brand, price, costShare, grams, tags, option, sorts, off] of goods) {
  const worn = option === 'size' && (category === 'jerseys' || category === 'rain' || category === 'gloves');
  const values = worn ? sorts.flatMap((size) => wear.map((colour) => `${size} ${colour}`)) : sorts;
  const base = stem(name);
  values.forEach((value, place) => {
    const sku = `${base}-${value.toUpperCase().replaceAll(/ /g, '-').replaceAll(/[^A-Z0-9-]+/g, '')}`;
    // Larger sizes of the same thing cost a little more.
    const regular = Math.round(price * 100) + (option === 'size' && category === 'tyres' ? place * 100 : 0);
    const reduced = off ? Math.round((regular * (1 - off)) / 10) * 10 : null;
    items.push([
      slug(name), name, category, brand, tags, category === 'reading' ? 'printed' : tags === 'voucher' ? '' : 'standard',
      sku, worn || option === 'size and colour' ? `size=${value.split(' ')[0]}|colour=${value.split(' ')[1]}` : `${option}=${value}`, money(regular), reduced === null ? '' : money(reduced), money(Math.round(regular * costShare / (costShare === 1 ? 1 : 1.19))),
      grams, tags === 'voucher' ? '' : pick([0, 3, 8, 14, 26, 40, 75, 120, 200]),
    ]);
  });
}

const first = 'Ada Bente Carlo Dorle Emil Femke Gesa Hauke Ilka Jonte Karla Levke Malte Nele Onno Pia Quirin Ronja Sönke Tjark Ute Veit Wiebke Xenia Yorick Zita Alrun Birte Cord Deike'.split(' ');
const last = 'Ahlmoor Birkenhain Dornfeld Eschweg Fuhrwerk Grasmück Heidkamp Immensee Jachthold Kranichstein Lindhorst Mohnacker Nebelung Otterbach Pappelhof Quellental Rotkamm Schilfrohr Tannholz Ulmenau Vogelweid Wiesengrund Zaunkönig'.split(' ');
const shoppers = [];
const names = new Set();
while (shoppers.length < 300) {
  const name = `${pick(first)} ${pick(last)}`;
  if (names.has(name)) continue;
  names.add(name);
  const number = shoppers.length + 1;
  const groups = number <= 6 ? 'staff' : random() < 0.08 ? 'trade' : random() < 0.25 ? 'club' : '';
  const orders = random() < 0.3 ? 0 : between(1, groups === 'trade' ? 40 : 9);
  const spent = orders === 0 ? 0 : Array.from({ length: orders }, () => between(1500, 16000)).reduce((sum, value) => sum + value, 0);
  shoppers.push([`s${number}`, name, groups, orders, money(spent), pick(['DE-BE', 'DE-BY', 'DE-NI', 'DE-SH', 'DE-HH', 'DE-NW', 'AT-9', 'AT-5', 'NL-GR', 'DK-81', 'FR-IDF', 'ES-CN', 'GB-ENG', 'JP-13'])]);
}

// Days before the demo's day on which the promotions have been used.
const uses = { 'moss-panniers': [46, 9, 1600], letter15: [214, 4, 1500], welcome10: [131, 120, 1180], 'tyre-pair': [88, 40, 780], 'trade-12': [63, 90, 2310], 'light-pair': [29, 20, 1245], 'rail-clear': [173, 100, 940], 'club-helmet': [17, 30, 500] };
const redemptions = [];
for (const [promotion, [count, days, amount]] of Object.entries(uses)) {
  for (let i = 0; i < count; i++) {
    const ago = promotion === 'rail-clear' ? between(6, days) : between(0, days);
    const when = new Date(Date.UTC(2027, 2, 5, between(6, 8), between(0, 59), between(0, 59)) - ago * 86400000);
    redemptions.push([promotion, pick(shoppers)[0], when.toISOString().replace('.000', ''), money(Math.round(amount * (0.6 + random() * 0.8)))]);
  }
}
redemptions.sort((a, b) => (a[2] < b[2] ? -1 : a[2] > b[2] ? 1 : 0));

csv('categories.csv', ['id', 'name', 'parent'], categories);
csv('items.csv', ['product', 'name', 'category', 'brand', 'tags', 'taxClass', 'sku', 'options', 'regular', 'price', 'cost', 'grams', 'stock'], items);
csv('shoppers.csv', ['id', 'name', 'groups', 'orders', 'spent', 'place'], shoppers);
csv('redemptions.csv', ['promotion', 'shopper', 'at', 'amount'], redemptions);
console.log(`${goods.length} products, ${items.length} variants, ${shoppers.length} shoppers, ${redemptions.length} redemptions`);

// Cards with a code each, handed out with first letters; a few are void.
const CROCKFORD = '0123456789ABCDEFGHJKMNPQRSTVWXYZ';
const letters = (count) => Array.from({ length: count }, () => pick(CROCKFORD)).join('');
const cards = new Set();
while (cards.size < 200) cards.add(`FIRST-${letters(4)}-${letters(4)}`);
const sorted = [...cards].sort();
mkdirSync(join(here, 'batches'), { recursive: true });
writeFileSync(join(here, 'batches', 'b1.json'), `${JSON.stringify({ id: 'b1', note: 'welcome cards, handed out at the fair' }, null, 2)}\n`);
csv(join('batches', 'b1.csv'), ['code', 'used', 'drawn', 'void', 'note'], sorted.map((code, place) => [code, 0, '', place >= sorted.length - 6 ? 'true' : '', '']));
