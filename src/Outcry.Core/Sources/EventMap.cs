using Outcry.Core.Evidence;

namespace Outcry.Core.Sources;

/// <summary>What a place in somebody else's data can mean.</summary>
public enum FieldMeaning
{
    /// <summary>The sender's own id of the event.</summary>
    Id,

    /// <summary>When it happened.</summary>
    Time,

    /// <summary>First name, or the whole name.</summary>
    FirstName,

    /// <summary>Last name.</summary>
    LastName,

    /// <summary>E-mail address.</summary>
    Email,

    /// <summary>Phone number.</summary>
    Phone,

    /// <summary>City.</summary>
    City,

    /// <summary>Region.</summary>
    Region,

    /// <summary>Country.</summary>
    Country,

    /// <summary>Name of the product, the workshop, the article.</summary>
    Product,

    /// <summary>Address of the product's page.</summary>
    ProductAddress,

    /// <summary>Address of the product's picture.</summary>
    ProductPicture,

    /// <summary>The product's category.</summary>
    Category,

    /// <summary>Amount of money.</summary>
    Amount,

    /// <summary>ISO 4217 code.</summary>
    Currency,

    /// <summary>Address of the page.</summary>
    Page,

    /// <summary>The snippet's visitor id.</summary>
    Visitor,

    /// <summary>Stars of a review, 0 to 5.</summary>
    Stars,

    /// <summary>Words of a review, a post or an endorsement.</summary>
    Words,

    /// <summary>How many are left in stock.</summary>
    Left,

    /// <summary>A profile's total.</summary>
    Total,

    /// <summary>Whether it is a test: true, 1 or yes.</summary>
    Test,
}

/// <summary>Where in somebody else's data each part of an event stands: JSON Pointers (RFC 6901), column headings or field names.</summary>
/// <param name="Kind">What the events are.</param>
/// <param name="Places">Place by meaning.</param>
/// <param name="Fields">Further fields to keep: name by place.</param>
/// <param name="Currency">ISO 4217 code for amounts where the data names none; empty for none.</param>
public sealed record EventMap(
    EventKind Kind,
    IReadOnlyDictionary<FieldMeaning, string> Places,
    IReadOnlyDictionary<string, string> Fields,
    string Currency = ""
)
{
    /// <summary>Which number is the day in dates such as "03/04/2015"; null when that is not known.</summary>
    public DateOrder? Dates { get; init; }

    /// <summary>Further fields taken at most.</summary>
    public const int MostFields = 30;

    /// <summary>Nothing is mapped.</summary>
    public static EventMap Empty(EventKind kind) =>
        new(kind, new Dictionary<FieldMeaning, string>(), new Dictionary<string, string>());

    /// <summary>The place of a meaning, or null.</summary>
    public string? PlaceOf(FieldMeaning meaning) =>
        Places.TryGetValue(meaning, out var place) && place.Length > 0 ? place : null;

    /// <summary>What is wrong with the map itself, as a sentence; null when events can be read with it.</summary>
    public string? Fault()
    {
        if (Fields.Count > MostFields)
            return $"At most {MostFields} further fields are kept.";
        if (Fields.Keys.FirstOrDefault(f => f.Length is 0 or > 60 || !f.All(IsNameSign)) is { } bad)
            return $"\"{bad}\" cannot name a field: use up to 60 letters, digits and underscores.";
        if (Currency.Length > 0 && !Sources.Currency.IsKnown(Currency))
            return $"\"{Currency}\" is no ISO 4217 currency code.";
        foreach (var needed in Needed(Kind))
            if (PlaceOf(needed) is null)
                return $"Point at the {Named(needed)}: without it {Plural(Kind)} say nothing.";
        return null;
    }

    /// <summary>What an event of a kind cannot do without.</summary>
    public static IReadOnlyList<FieldMeaning> Needed(EventKind kind) =>
        kind switch
        {
            EventKind.Purchase or EventKind.Booking or EventKind.BasketAddition => [FieldMeaning.Product],
            EventKind.Review => [FieldMeaning.Stars],
            EventKind.StockLevel => [FieldMeaning.Product, FieldMeaning.Left],
            EventKind.Total => [FieldMeaning.Total],
            EventKind.Post => [FieldMeaning.Product],
            EventKind.Endorsement => [FieldMeaning.Words],
            _ => [],
        };

    /// <summary>What a place can mean in events of a kind: a purchase has no stars, a review no amount.</summary>
    public static IReadOnlyList<FieldMeaning> Offered(EventKind kind) =>
        [.. Enum.GetValues<FieldMeaning>().Where(m => IsOffered(m, kind))];

    /// <summary>A meaning in words: "product", "first name".</summary>
    public static string Named(FieldMeaning meaning) =>
        meaning switch
        {
            FieldMeaning.FirstName => "first name",
            FieldMeaning.LastName => "last name",
            FieldMeaning.Email => "e-mail address",
            FieldMeaning.ProductAddress => "product's page",
            FieldMeaning.ProductPicture => "product's picture",
            FieldMeaning.Left => "number left",
            _ => meaning.ToString().ToLowerInvariant(),
        };

    private static bool IsOffered(FieldMeaning meaning, EventKind kind) =>
        meaning switch
        {
            FieldMeaning.Stars => kind == EventKind.Review,
            FieldMeaning.Words => kind is EventKind.Review or EventKind.Endorsement or EventKind.Post,
            FieldMeaning.Left => kind == EventKind.StockLevel,
            FieldMeaning.Total => kind == EventKind.Total,
            FieldMeaning.Amount or FieldMeaning.Currency => kind
                is EventKind.Purchase
                    or EventKind.BasketAddition
                    or EventKind.Booking
                    or EventKind.Enquiry
                    or EventKind.Own,
            _ => true,
        };

    private static string Plural(EventKind kind) =>
        kind switch
        {
            EventKind.BasketAddition => "basket additions",
            EventKind.StockLevel => "stock levels",
            EventKind.Review => "reviews",
            _ => $"{kind.ToString().ToLowerInvariant()}s",
        };

    private static bool IsNameSign(char c) => char.IsLetterOrDigit(c) || c == '_';
}
