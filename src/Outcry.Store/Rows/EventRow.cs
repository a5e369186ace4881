using System.Collections.Immutable;
using NodaTime;
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
    public string FirstName { get; init; } = "";
    public string LastInitial { get; init; } = "";
    public string MaskedName { get; init; } = "";
    public string MaskedEmail { get; init; } = "";
    public string City { get; init; } = "";
    public string Region { get; init; } = "";
    public string Country { get; init; } = "";
    public required string PersonKey { get; init; }
    public string? VisitorId { get; init; }
    public string? Page { get; init; }
    public string? ProductName { get; init; }
    public string? ProductAddress { get; init; }
    public string? ProductPicture { get; init; }
    public string? ProductCategory { get; init; }
    public decimal? Amount { get; init; }
    public string? Currency { get; init; }
    public Dictionary<string, string> Fields { get; init; } = [];
    public string? HiddenBy { get; set; }

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
