/** One event of a stream. */
export interface StreamEvent {
  name: string;
  data: string;
}

/** Reads server-sent events (HTML standard, 9.2.6) from pieces of text that end anywhere. */
export function eventReader(heard: (event: StreamEvent) => void): (piece: string) => void {
  let rest = '';
  let name = '';
  let data: string[] = [];
  return (piece) => {
    const lines = (rest + piece).split(/\r\n|\n/);
    rest = lines.pop() ?? '';
    for (const line of lines) {
      if (line === '') {
        if (data.length > 0) heard({ name: name || 'message', data: data.join('\n') });
        name = '';
        data = [];
        continue;
      }
      const colon = line.indexOf(':');
      // A line that begins with one is a comment: a beat.
      if (colon === 0) continue;
      const field = colon < 0 ? line : line.slice(0, colon);
      const value = colon < 0 ? '' : line.slice(colon + 1).replace(/^ /, '');
      if (field === 'event') name = value;
      else if (field === 'data') data.push(value);
    }
  };
}
