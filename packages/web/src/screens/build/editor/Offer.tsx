interface OfferProps {
  /** What is so now, as the beginning of a sentence. */
  said: string;
  /** What a click does about it. */
  offer: string;
  onTake: () => void;
}

/** Says what is probably not meant, and offers what is. */
export function Offer({ said, offer, onTake }: OfferProps) {
  return (
    <p className="flex items-baseline gap-2 py-1 text-soft">
      {said}
      <button type="button" className="btn btn-xs btn-outline font-normal" onClick={onTake}>
        {offer}
      </button>
    </p>
  );
}
