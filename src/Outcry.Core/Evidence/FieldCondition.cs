using System.Globalization;

namespace Outcry.Core.Evidence;

/// <summary>How a field is compared.</summary>
public enum Comparison
{
    /// <summary>Equal, case ignored.</summary>
    Is,

    /// <summary>Not equal, case ignored; a missing field is not equal to anything.</summary>
    IsNot,

    /// <summary>Contains the text, case ignored.</summary>
    Contains,

    /// <summary>Greater, as a number.</summary>
    Greater,

    /// <summary>Less, as a number.</summary>
    Less,

    /// <summary>Has any value.</summary>
    Filled,
}

/// <summary>How several conditions are joined.</summary>
public enum Join
{
    /// <summary>Every condition must hold.</summary>
    All,

    /// <summary>One condition is enough.</summary>
    Any,
}

/// <summary>A condition on one field of an event.</summary>
/// <param name="Field">"product", "category", "amount", "currency", "page", or the name of one of the source's own fields.</param>
/// <param name="Comparison">How it is compared.</param>
/// <param name="Value">With what; ignored for <see cref="Evidence.Comparison.Filled"/>.</param>
public sealed record FieldCondition(string Field, Comparison Comparison, string Value)
{
    /// <summary>Whether the event fulfils the condition. A value that is no number is neither greater nor less.</summary>
    public bool Holds(LedgerEvent happened)
    {
        var found = EventFields.Find(happened, Field) ?? "";
        return Comparison switch
        {
            Comparison.Is => string.Equals(found, Value, StringComparison.OrdinalIgnoreCase),
            Comparison.IsNot => !string.Equals(found, Value, StringComparison.OrdinalIgnoreCase),
            Comparison.Contains => Value.Length > 0 && found.Contains(Value, StringComparison.OrdinalIgnoreCase),
            Comparison.Greater => Compare(found, Value) > 0,
            Comparison.Less => Compare(found, Value) < 0,
            _ => found.Length > 0,
        };
    }

    private static int? Compare(string found, string wanted) =>
        decimal.TryParse(found, NumberStyles.Number, CultureInfo.InvariantCulture, out var left)
        && decimal.TryParse(wanted, NumberStyles.Number, CultureInfo.InvariantCulture, out var right)
            ? left.CompareTo(right)
            : null;
}

/// <summary>Reads an event's fields by name.</summary>
public static class EventFields
{
    /// <summary>Longest text kept of a field, in characters.</summary>
    public const int LongestValue = 200;

    /// <summary>Longest review, post or endorsement kept, in characters.</summary>
    public const int LongestWords = 1_000;

    /// <summary>Stars of a review, 0 to 5.</summary>
    public const string Stars = "stars";

    /// <summary>Words of a review, a post or an endorsement.</summary>
    public const string Words = "words";

    /// <summary>How many are left in stock.</summary>
    public const string Left = "left";

    /// <summary>A profile's total.</summary>
    public const string Total = "total";

    /// <summary>Who speaks in an endorsement, as permitted.</summary>
    public const string Who = "who";

    /// <summary>In which role they speak.</summary>
    public const string Role = "role";

    /// <summary>What a profile's total counts: "followers".</summary>
    public const string Of = "of";

    /// <summary>The name of a happening of the site's own.</summary>
    public const string Event = "event";

    /// <summary>Fields that events of a kind have by nature, which visitors may read from the start.</summary>
    public static IReadOnlyList<string> OfKind(EventKind kind) =>
        kind switch
        {
            EventKind.Review => [Stars, Words],
            EventKind.StockLevel => [Left],
            EventKind.Endorsement => [Who, Role, Words],
            EventKind.Post => [Words],
            EventKind.Total => [Total, Of],
            EventKind.Own => [Event],
            _ => [],
        };

    /// <summary>The names every source may have besides its own fields.</summary>
    public static IReadOnlyList<string> Common { get; } = ["product", "category", "amount", "currency", "page"];

    /// <summary>The field's value, or null when the event does not have it.</summary>
    public static string? Find(LedgerEvent happened, string field) =>
        field switch
        {
            "product" => happened.Product?.Name,
            "category" => happened.Product?.Category,
            "amount" => happened.Amount?.ToString(CultureInfo.InvariantCulture),
            "currency" => happened.Currency,
            "page" => happened.Page,
            _ => happened.Fields.GetValueOrDefault(field),
        };
}
