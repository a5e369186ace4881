using System.Collections.Immutable;
using NodaTime;
using Outcry.Core.Care;

namespace Outcry.Core.Evidence;

/// <summary>What sort of thing happened.</summary>
public enum EventKind
{
    /// <summary>Something was bought.</summary>
    Purchase,

    /// <summary>A place or a time was booked.</summary>
    Booking,

    /// <summary>Somebody joined a list.</summary>
    SignUp,

    /// <summary>Somebody asked for something, a quote for instance.</summary>
    Enquiry,

    /// <summary>Something was put into the basket; not paid for yet.</summary>
    BasketAddition,

    /// <summary>Somebody wrote a review.</summary>
    Review,

    /// <summary>So many of something are left.</summary>
    StockLevel,

    /// <summary>A specialist, a known person or a customer speaks up for the site, entered by hand.</summary>
    Endorsement,

    /// <summary>Something was published in a feed.</summary>
    Post,

    /// <summary>A profile's total as of a time: ratings, followers.</summary>
    Total,

    /// <summary>A happening of the site's own, named by the site.</summary>
    Own,
}

/// <summary>Whether an event may be used.</summary>
public enum EventState
{
    /// <summary>May be shown and counted.</summary>
    Usable,

    /// <summary>A member's own try; never public.</summary>
    OwnTest,

    /// <summary>Taken out by a member.</summary>
    Hidden,

    /// <summary>Waiting for a look: it has a blocked word, or its source holds everything.</summary>
    Held,

    /// <summary>The same happening told a second time.</summary>
    Duplicate,

    /// <summary>Deleted, and kept for a few minutes so that it can be taken back.</summary>
    Deleted,
}

/// <summary>One thing that happened, as the core sees it: who did it is already shortened to what may ever be used.</summary>
public sealed record LedgerEvent
{
    /// <summary>The event's own id.</summary>
    public required Guid Id { get; init; }

    /// <summary>Where it came from.</summary>
    public required Guid SourceId { get; init; }

    /// <summary>What sort of thing.</summary>
    public required EventKind Kind { get; init; }

    /// <summary>When it happened.</summary>
    public required Instant At { get; init; }

    /// <summary>Whether it may be used.</summary>
    public EventState State { get; init; } = EventState.Usable;

    /// <summary>The person, or <see cref="PersonName.Unknown"/>.</summary>
    public PersonName Name { get; init; } = PersonName.Unknown;

    /// <summary>Where the person was, as far as known.</summary>
    public Place Place { get; init; } = Place.Unknown;

    /// <summary>
    /// What tells one person from another: a keyed hash of the e-mail address or else of the phone number,
    /// else the visitor, else the event itself.
    /// </summary>
    public required string PersonKey { get; init; }

    /// <summary>Keyed hash of the phone number, also of one whose person is told by an e-mail address; null without a number.</summary>
    public string? PhoneKey { get; init; }

    /// <summary>Whether two events share an e-mail address, a phone number or a visitor, and so were one person's doing.</summary>
    public bool IsSamePerson(LedgerEvent other) =>
        PersonKey == other.PersonKey
        || (PhoneKey is { } phone && (phone == other.PhoneKey || phone == other.PersonKey))
        || (other.PhoneKey is { } theirs && theirs == PersonKey);

    /// <summary>The visitor whose browser did it, if that is known.</summary>
    public string? VisitorId { get; init; }

    /// <summary>Page on which it happened, as an address; null when unknown.</summary>
    public string? Page { get; init; }

    /// <summary>What it was about, if anything.</summary>
    public EventProduct? Product { get; init; }

    /// <summary>Amount of money in units of <see cref="Currency"/>, if any.</summary>
    public decimal? Amount { get; init; }

    /// <summary>ISO 4217 code of the amount.</summary>
    public string? Currency { get; init; }

    /// <summary>Further answers and fields that the source maps, by name.</summary>
    public ImmutableDictionary<string, string> Fields { get; init; } = ImmutableDictionary<string, string>.Empty;
}

/// <summary>What an event was about.</summary>
/// <param name="Name">As sold.</param>
/// <param name="Address">Its page, absolute; null when unknown.</param>
/// <param name="Picture">Address of its picture, absolute; null when there is none.</param>
/// <param name="Category">Its category, if the shop names one.</param>
public sealed record EventProduct(string Name, string? Address = null, string? Picture = null, string? Category = null);
