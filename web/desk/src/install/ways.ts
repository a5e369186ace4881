/** One way to put the line on a site, as a short path to walk. */
export interface Way {
  id: string;
  name: string;
  steps: readonly string[];
  /** What differs from the plain line, if anything. */
  note?: string;
}

/** The ways, the plainest first. Steps speak of what the person sees, whatever the tool is called. */
export const WAYS: readonly Way[] = [
  {
    id: 'html',
    name: 'An HTML page',
    steps: [
      'Open the file or template from which your pages are made.',
      'Paste the line just before </head>. The start or the end of the body gives the same result.',
      'Save, and publish the pages.',
    ],
  },
  {
    id: 'builder',
    name: 'A site builder',
    steps: [
      'Open the settings of the whole site, not of one page.',
      'Look for a box called custom code, tracking code or header code.',
      'Paste the line there, choose “all pages” if it asks, save and publish.',
    ],
    note: 'Some builders offer the box on paid plans only. The footer box does as well.',
  },
  {
    id: 'tags',
    name: 'A tag manager',
    steps: [
      'Make a new tag of the kind “custom HTML”.',
      'Paste the line as it is; leave “support document.write” off.',
      'Let it fire once on every page view. Routes of a single-page application are noticed without another trigger.',
      'Publish the container.',
    ],
    note: 'If the tag manager asks for consent types, choose the one under which your consent tool lists it.',
  },
  {
    id: 'spa',
    name: 'A single-page application',
    steps: [
      'Paste the line into the one HTML file that loads the application, before </head>.',
      'That is all: a changed route counts as a page view, once, whether it is pushed or replaced.',
      'Forms that appear later, and forms sent by fetch, are noticed too.',
    ],
  },
  {
    id: 'content',
    name: "A content system's theme",
    steps: [
      "Open the theme's header template, or the settings box for scripts in the head if the system has one.",
      'Paste the line before </head>. Do it in a child theme, so that an update does not take it away.',
      'Clear the page cache of the system and of the server before it.',
    ],
  },
];
