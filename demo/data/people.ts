import { Random } from '../random';

/** Made-up students. The first twenty-one are the class of Wetland Survey Methods. */
export interface DemoStudent {
  family: string;
  given: string;
  login: string;
  number: string;
  /** What they usually reach, 0 to 1. */
  ability: number;
}

const WETLAND = `Abernethy, Maud|Achterberg, Ruben|Balogun, Temi|Carrow, Isolde|Dacosta, Nuno|Eklund, Signe|Farrelly, Con|Grzybek, Ola|
Haverstock, Jem|Ibekwe, Chidi|Jansky, Petra|Kilbride, Nora|Lindqvist, Arvo|Marchetti, Gaia|Nakatani, Ren|Okonjo, Adaeze|Penhallow, Odalys|
Quill, Barnaby|Rasmussen, Tove|Silvano, Luca|Tregenza, Wyn`;

const FAMILIES = `Ainsley|Albarran|Arkwright|Bannerman|Bexley|Birkett|Blackmere|Brånnström|Calloway|Castellan|Cheverell|Corrigan|Dalgleish|
Devereaux|Dunmore|Easterby|Ellwood|Faircloth|Fenwick|Fjeldstad|Gallimore|Garside|Greenhalgh|Hallett|Harkness|Hollis|Iriarte|Ivarsson|Jellicoe|
Kestrel|Kowalczuk|Lambourne|Lascelles|Lovelock|Mabey|Marsh|McIlroy|Merriweather|Moorcroft|Mwangi|Nettleship|Norrington|O’Dowd|Oakshott|
Osei|Paxton|Pemberley|Quennell|Radcliffe|Redmayne|Roscoe|Sandhurst|Sørensen|Stanhope|Tamblyn|Thistlewood|Tolliver|Umar|Underhill|Vasquez|
Wadham|Wainscott|Whitlow|Yarrow|Zielinska`;

const GIVEN = `Ada|Aoife|Aubin|Bea|Björn|Callum|Carys|Dara|Delphine|Edie|Elias|Esme|Fergus|Freya|Gwil|Hana|Idris|Ines|Iona|Jonas|Juno|Kofi|
Lena|Lowri|Malik|Mina|Moss|Nell|Niamh|Obi|Orla|Pip|Rafe|Rhona|Saoirse|Sefa|Tamsin|Theo|Una|Wilf|Yara|Zadie`;

const LONG: [string, string] = ['Featherstonehaugh-Winterbourne', 'Bartholomew Alexander Montague'];

const words = (text: string): string[] => text.replaceAll('\n', '').split('|');
const plain = (text: string): string =>
  text
    .normalize('NFKD')
    .replace(/[^A-Za-z]/g, '')
    .toLowerCase();

/** The students of the school, in the order of their numbers. */
export function demoStudents(count: number): DemoStudent[] {
  const random = new Random(20_261_124);
  const students: DemoStudent[] = [];
  const logins = new Set<string>();
  const add = (family: string, given: string): void => {
    let login = plain(family);
    if (logins.has(login)) login = `${login}.${plain(given)}`.slice(0, 60);
    if (logins.has(login)) return;
    logins.add(login);
    const ability = Math.min(0.97, Math.max(0.35, 0.74 + random.normal() * 0.11));
    students.push({ family, given, login, number: `BC${String(24_101 + students.length * 7)}`, ability });
  };
  for (const name of words(WETLAND)) {
    const [family, given] = name.split(', ');
    add(family!, given!);
  }
  add(...LONG);
  const families = words(FAMILIES);
  const given = words(GIVEN);
  while (students.length < count) add(random.pick(families), random.pick(given));
  return students;
}
