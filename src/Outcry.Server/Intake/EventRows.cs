using Outcry.Core.Care;
using Outcry.Core.Evidence;
using Outcry.Core.Sources;
using Outcry.Server.Sites;
using Outcry.Store.Rows;

namespace Outcry.Server.Intake;

/// <summary>Turns what arrived into the row to keep: names shortened, addresses and numbers hashed and masked, never stored.</summary>
internal static class EventRows
{
    public static EventRow Make(
        Arrival arrival,
        SourceRow source,
        LiveSite site,
        FirstState first,
        NodaTime.Instant now,
        Guid? import = null
    )
    {
        var name = PersonName.Shorten(arrival.FirstName, arrival.LastName);
        var clues = PersonClues.Of(site.SigningKey, arrival.Email, arrival.Phone);
        return new EventRow
        {
            WorkspaceId = source.WorkspaceId,
            SiteId = source.SiteId,
            SourceId = source.Id,
            ExternalId = Clean(arrival.ExternalId),
            DeliveryId = arrival.DeliveryId,
            Kind = arrival.Kind,
            At = arrival.At,
            ReceivedAt = now,
            State = first.State,
            HeldBecause = first.Because.Length > 0 ? first.Because : null,
            FirstName = Clean(name.First),
            LastInitial = Clean(name.LastInitial),
            MaskedName = Clean(Mask.Name(name)),
            MaskedEmail = Clean(Mask.Email(arrival.Email)),
            MaskedPhone = Mask.Phone(arrival.Phone),
            City = Clip(arrival.City),
            Region = Clip(arrival.Region),
            Country = Clip(arrival.Country),
            PersonKey = clues.Primary(arrival.VisitorId, arrival.ExternalId),
            PhoneKey = clues.PhoneKey,
            VisitorId = arrival.VisitorId,
            Page = arrival.Page is null ? null : Clean(arrival.Page),
            ProductName = arrival.Product is null ? null : Clip(arrival.Product.Name),
            ProductAddress = arrival.Product?.Address,
            ProductPicture = arrival.Product?.Picture,
            ProductCategory = arrival.Product?.Category is { } category ? Clip(category) : null,
            Amount = arrival.Amount,
            Currency = arrival.Currency,
            Fields = arrival.Fields.ToDictionary(
                f => Clean(f.Key),
                f => Clip(f.Value, f.Key == EventFields.Words ? Arrival.LongestWords : Arrival.LongestField)
            ),
            ImportId = import,
        };
    }

    /// <summary>What tells whether the row was told before.</summary>
    public static Telling Telling(EventRow row, SourceRow source) =>
        new(
            row.SourceId,
            row.Kind,
            row.PersonKey,
            row.ProductName ?? "",
            row.At,
            source.Kind is not SourceKind.SiteForm
        );

    private static string Clip(string? text, int most = Arrival.LongestField)
    {
        var trimmed = Clean(text?.Trim() ?? "");
        return trimmed.Length <= most
            ? trimmed
            : trimmed[..(char.IsHighSurrogate(trimmed[most - 1]) ? most - 1 : most)];
    }

    // PostgreSQL keeps no NUL in a text, and half a surrogate pair is no text at all.
    private static string Clean(string text)
    {
        if (!text.Any(c => c == '\0' || char.IsSurrogate(c)))
            return text;
        var kept = new System.Text.StringBuilder(text.Length);
        foreach (var rune in text.EnumerateRunes())
            if (rune.Value != 0)
                kept.Append(rune.ToString());
        return kept.ToString();
    }
}
