using System.Security.Cryptography;
using System.Text;
using NodaTime;
using Outcry.Core.Evidence;
using Outcry.Store.Rows;

namespace Outcry.Server.Intake;

/// <summary>An event as a source reports it, before anything private is taken off.</summary>
internal sealed record IncomingEvent
{
    public required string ExternalId { get; init; }
    public string? DeliveryId { get; init; }
    public required EventKind Kind { get; init; }
    public required Instant At { get; init; }
    public string? FirstName { get; init; }
    public string? LastName { get; init; }
    public string? Email { get; init; }
    public string? City { get; init; }
    public string? Region { get; init; }
    public string? Country { get; init; }
    public string? VisitorId { get; init; }
    public string? Page { get; init; }
    public EventProduct? Product { get; init; }
    public decimal? Amount { get; init; }
    public string? Currency { get; init; }
    public IReadOnlyDictionary<string, string> Fields { get; init; } = new Dictionary<string, string>();
    public bool IsTest { get; init; }

    /// <summary>The row to keep: names shortened, addresses hashed and masked, never stored.</summary>
    public EventRow ToRow(SourceRow source, byte[] hashKey, Instant now)
    {
        var name = PersonName.Shorten(FirstName, LastName);
        return new EventRow
        {
            WorkspaceId = source.WorkspaceId,
            SiteId = source.SiteId,
            SourceId = source.Id,
            ExternalId = ExternalId,
            DeliveryId = DeliveryId,
            Kind = Kind,
            At = At,
            ReceivedAt = now,
            State = IsTest ? EventState.OwnTest : EventState.Usable,
            FirstName = name.First,
            LastInitial = name.LastInitial,
            MaskedName = Mask.Name(name),
            MaskedEmail = Mask.Email(Email),
            City = Clip(City),
            Region = Clip(Region),
            Country = Clip(Country),
            PersonKey = PersonKey(hashKey),
            VisitorId = VisitorId,
            Page = Page,
            ProductName = Product is null ? null : Clip(Product.Name),
            ProductAddress = Product?.Address,
            ProductPicture = Product?.Picture,
            ProductCategory = Product?.Category,
            Amount = Amount,
            Currency = Currency,
            Fields = Fields.ToDictionary(f => f.Key, f => Clip(f.Value)),
        };
    }

    private const int LongestField = 200;

    private static string Clip(string? text)
    {
        var trimmed = text?.Trim() ?? "";
        return trimmed.Length <= LongestField ? trimmed : trimmed[..LongestField];
    }

    // Keyed, so that an address cannot be found by hashing guesses without the site's key.
    private string PersonKey(byte[] hashKey)
    {
        if (!string.IsNullOrWhiteSpace(Email))
        {
            var mail = Encoding.UTF8.GetBytes(Email.Trim().ToUpperInvariant());
            return "e:" + Convert.ToHexStringLower(HMACSHA256.HashData(hashKey, mail).AsSpan(0, 16));
        }
        return VisitorId is null ? $"x:{ExternalId}" : $"v:{VisitorId}";
    }
}

/// <summary>Masks what the desk may see of private fields.</summary>
internal static class Mask
{
    private const string Dots = "•••••";

    public static string Name(PersonName name) =>
        name.IsUnknown ? ""
        : name.LastInitial.Length == 0 ? name.First
        : $"{name.First} {name.LastInitial}{Dots}";

    /// <summary>"s•••••@•••••.example": first letter and last part of the domain.</summary>
    public static string Email(string? address)
    {
        var at = address?.LastIndexOf('@') ?? -1;
        if (at <= 0)
            return "";
        var dot = address!.LastIndexOf('.');
        return $"{address[0]}{Dots}@{Dots}{(dot > at ? address[dot..] : "")}";
    }
}
