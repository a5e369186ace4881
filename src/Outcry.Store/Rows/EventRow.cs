using System.Collections.Immutable;
using NodaTime;
using Outcry.Core.Care;
using Outcry.Core.Evidence;

namespace Outcry.Store.Rows;

/// <summary>One event in the ledger. Full surnames, e-mail addresses and phone numbers are never stored, only masks and a keyed hash.</summary>
public sealed class EventRow : IWorkspaceOwned
{
    public Guid Id { get; init; } = Guid.CreateVersion7();
    public Guid WorkspaceId { get; init; }
    public Guid SiteId { get; init; }
    public Guid SourceId { get; init; }

    /// <summary>The id under which the sender knows it; one event per source and id.</summary>
    public required string ExternalId { get; init; }

    /// <summary>The id of the delivery that brought it, where the way in has such ids; each is accepted once.</summary>
    public string? DeliveryId { get; init; }

    public EventKind Kind { get; init; }
    public Instant At { get; init; }
    public Instant ReceivedAt { get; init; }
    public EventState State { get; set; }
    public string FirstName { get; set; } = "";
    public string LastInitial { get; set; } = "";
    public string MaskedName { get; set; } = "";
    public string MaskedEmail { get; set; } = "";
    public string MaskedPhone { get; set; } = "";
    public string City { get; set; } = "";
    public string Region { get; set; } = "";
    public string Country { get; set; } = "";
    public required string PersonKey { get; set; }
    public string? VisitorId { get; set; }
    public string? Page { get; init; }
    public string? ProductName { get; set; }
    public string? ProductAddress { get; init; }
    public string? ProductPicture { get; init; }
    public string? ProductCategory { get; init; }
    public decimal? Amount { get; set; }
    public string? Currency { get; init; }
    public Dictionary<string, string> Fields { get; set; } = [];
    public string? HiddenBy { get; set; }

    /// <summary>Keyed hash of the phone number, beside the person's key, so that a person is found by either.</summary>
    public string? PhoneKey { get; set; }

    /// <summary>The blocked word that holds it, or why it was hidden on arrival; empty where everything is held.</summary>
    public string? HeldBecause { get; set; }

    /// <summary>Who corrected what visitors read of it, and when; what it was stands in the corrections.</summary>
    public string? CorrectedBy { get; set; }
    public Instant? CorrectedAt { get; set; }

    /// <summary>When it was deleted, by whom, and out of which state, until it is gone for good.</summary>
    public Instant? DeletedAt { get; set; }
    public string? DeletedBy { get; set; }
    public EventState? DeletedFrom { get; set; }

    /// <summary>The import that brought it, if one did.</summary>
    public Guid? ImportId { get; init; }

    /// <summary>What a search finds it by; made by the database.</summary>
    public NpgsqlTypes.NpgsqlTsVector Search { get; private set; } = null!;

    /// <summary>The event as the core sees it.</summary>
    public LedgerEvent ToEvent() =>
        new()
        {
            Id = Id,
            SourceId = SourceId,
            Kind = Kind,
            At = At,
            State = State,
            Name = new PersonName(FirstName, LastInitial),
            Place = new Place(City, Region, Country),
            PersonKey = PersonKey,
            PhoneKey = PhoneKey,
            VisitorId = VisitorId,
            Page = Page,
            Product = ProductName is null
                ? null
                : new EventProduct(ProductName, ProductAddress, ProductPicture, ProductCategory),
            Amount = Amount,
            Currency = Currency,
            Fields = Fields.ToImmutableDictionary(),
        };
}
