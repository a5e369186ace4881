using Outcry.Core.Care;
using Outcry.Core.Evidence;
using Outcry.Core.Pages;
using Outcry.Core.Sources;
using Outcry.Server.Sites;
using Outcry.Store.Rows;

namespace Outcry.Server.Intake;

/// <summary>Turns what arrived into the row to keep: names shortened, addresses and numbers hashed and masked, never stored.</summary>
internal static class EventRows
{
    public static EventRow Make(
        IncomingEvent arrival,
        SourceRow source,
        LiveSite site,
        FirstState first,
        NodaTime.Instant now,
        Guid? import = null,
        AskedFields? asked = null
    )
    {
        var name = PersonName.Shorten(arrival.FirstName, arrival.LastName);
        var clues = PersonClues.Of(site.PersonKey, arrival.Email, arrival.Phone, site.Region);
        return new EventRow
        {
            WorkspaceId = source.WorkspaceId,
            SiteId = source.SiteId,
            SourceId = source.Id,
            ExternalId = PlainText.Clip(PlainText.Clean(arrival.ExternalId), LongestId),
            DeliveryId = arrival.DeliveryId is { } delivery ? PlainText.Clean(delivery) : null,
            Kind = arrival.Kind,
            At = arrival.At,
            ReceivedAt = now,
            State = first.State,
            HeldBecause = first.Because.Length > 0 ? first.Because : null,
            FirstName = name.First,
            LastInitial = name.LastInitial,
            MaskedName = Mask.Name(name),
            MaskedEmail = PlainText.Clean(Mask.Email(arrival.Email)),
            MaskedPhone = Mask.Phone(arrival.Phone),
            City = Clip(arrival.City),
            Region = Clip(arrival.Region),
            Country = Clip(arrival.Country),
            PersonKey = clues.Primary(arrival.VisitorId, arrival.ExternalId),
            PhoneKey = clues.PhoneKey,
            VisitorId = arrival.VisitorId is { } visitor ? PlainText.OrNull(visitor) : null,
            Page = PageAddress.Shorn(arrival.Page, site.AskedQuery),
            ProductName = arrival.Product is null ? null : Clip(arrival.Product.Name),
            ProductAddress = arrival.Product?.Address,
            ProductPicture = arrival.Product?.Picture,
            ProductCategory = arrival.Product?.Category is { } category ? Clip(category) : null,
            Amount = arrival.Amount,
            Currency = arrival.Currency,
            Fields = Fields(arrival, (asked ?? new AskedFields(source, site)).Of(arrival.Kind)),
            ImportId = import,
        };
    }

    /// <summary>What tells whether the row was told before.</summary>
    /// <param name="row">The row.</param>
    /// <param name="source">Its source; left out for what is in the ledger already.</param>
    public static ToldEvent ToldEvent(EventRow row, SourceRow? source = null) =>
        new(
            row.SourceId,
            row.Kind,
            row.PersonKey,
            row.PhoneKey,
            row.ProductName ?? "",
            row.At,
            SourceNamesEvents: source?.Kind is not SourceKind.SiteForm
        );

    private const int LongestId = 500;

    private static Dictionary<string, string> Fields(IncomingEvent arrival, HashSet<string> asked)
    {
        var kept = new Dictionary<string, string>();
        foreach (var (name, value) in arrival.Fields)
            if (PlainText.OrNull(name) is { } key && asked.Contains(key) && PlainText.OrNull(value) is { } text)
                kept[key] = Clip(
                    IsSpoken(arrival.Kind, key) ? PrivateContent.Mask(text) : PrivateContent.Mask(key, text),
                    key == EventFields.Words ? EventFields.LongestWords : EventFields.LongestValue
                );
        return kept;
    }

    // What belongs to a kind by nature is meant to be read; a permitted full name stands under "who".
    private static bool IsSpoken(EventKind kind, string field) =>
        EventFields.OfKind(kind).Contains(field) || OwnOf(kind).Contains(field);

    // Notes that Outcry makes itself.
    internal static string[] OwnOf(EventKind kind) =>
        kind switch
        {
            EventKind.Endorsement => ["entered_by", "permission"],
            EventKind.Total or EventKind.Review => ["entered_by", EventFields.Words],
            _ => [],
        };

    private static string Clip(string? text, int most = EventFields.LongestValue) =>
        PlainText.Clip(PlainText.Clean(text).Trim(), most);
}

/// <summary>Names of the fields that are kept of a source's events; the same for all of a lot.</summary>
internal sealed class AskedFields(SourceRow source, LiveSite site)
{
    private readonly Dictionary<EventKind, HashSet<string>> _ofKind = [];

    /// <summary>What the kind says by nature, what the source maps or shows, and what somebody's condition asks for.</summary>
    public HashSet<string> Of(EventKind kind)
    {
        if (!_ofKind.TryGetValue(kind, out var asked))
            _ofKind[kind] = asked = EventFields
                .OfKind(kind)
                .Concat(EventRows.OwnOf(kind))
                .Concat(source.Display.ShownFields)
                .Concat(source.Form?.Fields ?? [])
                .Concat(source.Map?.Fields.Keys ?? [])
                .Concat(source.Rules.Conditions.Select(c => c.Field))
                .Concat(
                    site.Callouts.Where(c => c.Evidence.Sources.Contains(source.Id))
                        .SelectMany(c => c.Evidence.Conditions)
                        .Select(c => c.Field)
                )
                .ToHashSet();
        return asked;
    }
}
