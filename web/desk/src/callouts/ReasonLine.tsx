import { Link } from '@tanstack/react-router';
import type { Schema } from '../data/api';
import { FacetTag } from '../kit/FacetTag';
import { controlOf } from './control';

/** The control that changes a reason, as a link to it. */
export function ControlLink({ place, calloutId }: { place: Schema<'ControlPlace'>; calloutId: string }) {
  const control = controlOf(place ?? 'nowhere');
  switch (control.is) {
    case 'facet':
      return (
        <Link
          to="/callouts/$calloutId"
          params={{ calloutId }}
          search={{ open: control.facet }}
          className="inline-flex items-center gap-1.5"
        >
          <FacetTag facet={control.facet} />
          <span className="text-[12px] text-cobalt hover:underline">{control.words}</span>
        </Link>
      );
    case 'rules':
      return (
        <Link to="/" search={{ panel: 'rules' }} className="text-[12px] text-cobalt hover:underline">
          {control.words}
        </Link>
      );
    case 'state':
      return (
        <Link to="/callouts/$calloutId" params={{ calloutId }} className="text-[12px] text-cobalt hover:underline">
          {control.words}
        </Link>
      );
    case 'sheet':
      return (
        <Link to="/" className="text-[12px] text-cobalt hover:underline">
          {control.words}
        </Link>
      );
    case 'offAir':
      return <span className="text-[12px] text-soft">{control.words}</span>;
    case 'nowhere':
      return null;
  }
}
