import type { Schema } from '../data/api';

export type EventKind = Schema<'EventKind'>;
export type SourceKind = Schema<'SourceKind'>;

/** What a place in somebody else's data can mean. */
export type Meaning = Schema<'FieldMeaning'>;

/** Kinds of events as one says them of one event, and of many. */
export const KINDS: Record<EventKind, readonly [one: string, many: string]> = {
  purchase: ['Purchase', 'purchases'],
  booking: ['Booking', 'bookings'],
  signUp: ['Sign-up', 'sign-ups'],
  enquiry: ['Enquiry', 'enquiries'],
  basketAddition: ['Basket addition', 'basket additions'],
  review: ['Review', 'reviews'],
  stockLevel: ['Stock level', 'stock levels'],
  endorsement: ['Endorsement', 'endorsements'],
  post: ['Post', 'posts'],
  total: ['Total', 'totals'],
  own: ['Own event', 'own events'],
};

/** Ways in, as the list of sources names them, and what each is good for. */
export const SOURCES: Record<SourceKind, { name: string; what: string; kinds: readonly EventKind[] }> = {
  siteForm: {
    name: 'site form',
    what: 'A form on your site, picked from those the snippet has met. Nothing in the form changes.',
    kinds: ['signUp', 'enquiry', 'purchase', 'booking', 'stockLevel', 'own'],
  },
  signedWebhook: {
    name: 'signed webhook',
    what: 'Your shop, booking or other system posts events to an address, signed. JSON of any shape.',
    kinds: ['purchase', 'basketAddition', 'booking', 'signUp', 'review', 'stockLevel', 'enquiry', 'own'],
  },
  launcher: {
    name: 'Messages from launchers',
    what: 'What visitors write in the panel of a launcher. It is made with the first message.',
    kinds: [],
  },
  prompt: {
    name: 'Answers to prompts',
    what: 'Whoever says yes to a prompt, as a sign-up. It is made with the first answer.',
    kinds: [],
  },
  shop: {
    name: 'shop, by its add-on',
    what: 'You give the add-on of your shop this site’s id and a key. It brings past orders and the stock of every product, then what is new.',
    kinds: ['purchase', 'stockLevel'],
  },
  pageScript: {
    name: 'page script',
    what: 'Your pages report basket additions, or events of your own by name.',
    kinds: ['basketAddition', 'own'],
  },
  fileImport: {
    name: 'file import',
    what: 'A CSV or NDJSON file: past orders, sign-ups or reviews, so that there is something to tell on day one.',
    kinds: ['purchase', 'booking', 'signUp', 'review', 'stockLevel', 'enquiry'],
  },
  reviewList: {
    name: 'review list',
    what: 'Reviews fetched from an address, or read from the JSON-LD of your own pages.',
    kinds: ['review'],
  },
  profileTotals: {
    name: 'profile totals',
    what: 'A total from elsewhere, ratings or followers, fetched by pointing at it.',
    kinds: ['total'],
  },
  feed: { name: 'feed', what: 'Posts of an RSS or Atom feed.', kinds: ['post'] },
  byHand: {
    name: 'by hand',
    what: 'An endorsement with its permission, a total as of a date, or a review, typed in here.',
    kinds: ['endorsement', 'total', 'review'],
  },
};

/** What a place in somebody else's data can mean, in words. */
export const MEANINGS: Record<Meaning, string> = {
  id: 'its own id',
  time: 'time',
  firstName: 'first or whole name',
  lastName: 'last name',
  email: 'e-mail address',
  phone: 'phone',
  city: 'city',
  region: 'region',
  country: 'country',
  product: 'product',
  productAddress: "product's page",
  productPicture: "product's picture",
  category: 'category',
  amount: 'amount',
  currency: 'currency',
  page: 'page',
  visitor: 'visitor id',
  stars: 'stars',
  words: 'words',
  left: 'number left',
  total: 'total',
  test: 'test mark',
};
