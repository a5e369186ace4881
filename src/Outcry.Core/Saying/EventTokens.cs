using System.Globalization;
using NodaTime;
using Outcry.Core.Care;
using Outcry.Core.Evidence;

namespace Outcry.Core.Saying;

/// <summary>The tokens that an event offers a message, with what each is worth.</summary>
public static class EventTokens
{
    /// <summary>Tokens every source of single events has; a source's own shown fields come on top.</summary>
    public static IReadOnlyList<string> Common { get; } =
    [
        "name",
        "first_name",
        "someone",
        "place",
        "from_place",
        "city",
        "region",
        "country",
        "product",
        "category",
        "time_ago",
    ];

    /// <summary>The token for an amount of money, offered only by sources that have one.</summary>
    public const string Amount = "amount";

    /// <summary>The values for one event. What may not be read is empty, so that the token's fallback stands.</summary>
    /// <param name="happened">The event.</param>
    /// <param name="display">What its source allows to be read.</param>
    /// <param name="crowd">Who shares its place in the window.</param>
    /// <param name="now">For "time_ago".</param>
    /// <param name="voice">In whose language and figures; English when left out.</param>
    public static TokenValues Read(
        LedgerEvent happened,
        DisplayPolicy display,
        PlaceCrowd crowd,
        Instant now,
        Voice? voice = null
    )
    {
        voice ??= Voice.English;
        var level = crowd.FinestLevel(happened.Place, display.Place);
        var place = happened.Place.Named(level);
        var first = display.Name is NameStyle.FirstAndInitial or NameStyle.FirstOnly ? happened.Name.First : "";
        var values = new TokenValues
        {
            ["name"] = happened.Name.Shown(display.Name),
            ["first_name"] = first,
            ["someone"] = BuiltInWords.Say(voice, BuiltInWord.Someone),
            ["place"] = place,
            // The preposition goes with the place, so that none is left dangling.
            ["from_place"] = place.Length == 0 ? "" : BuiltInWords.Say(voice, BuiltInWord.From, place),
            ["city"] = level >= PlaceLevel.City ? happened.Place.City : "",
            ["region"] = level >= PlaceLevel.Region ? happened.Place.Region : "",
            ["country"] = level >= PlaceLevel.Country ? happened.Place.Country : "",
            ["product"] = happened.Product?.Name ?? "",
            ["category"] = happened.Product?.Category ?? "",
            ["time_ago"] = RelativeTime.Ago(now - happened.At, voice),
        };
        if (display.ShowAmount && happened.Amount is { } amount)
            // Below the first step there is nothing to round down to: "£0+" says nothing, and "£9+" no less than £9.50.
            values[Amount] =
                display.RoundAmount && amount >= Rounding.FirstStep
                    ? Figures.Money(Rounding.Down(amount), happened.Currency, voice.Culture, whole: true) + "+"
                    : Figures.Money(amount, happened.Currency, voice.Culture);
        foreach (var field in display.ShownFields)
            SetField(values, field, happened.Fields.GetValueOrDefault(field, ""), voice);
        return values;
    }

    // What is nothing but a number is written as the reader writes numbers; anything else is text, an order number too.
    private static void SetField(TokenValues values, string field, string raw, Voice voice)
    {
        if (
            field is EventFields.Left or EventFields.Total or EventFields.Stars
            && decimal.TryParse(raw, NumberStyles.Number, CultureInfo.InvariantCulture, out var number)
        )
            values.SetNumber(field, number, Figures.Precise(number, voice.Culture));
        else
            values[field] = raw;
    }
}

/// <summary>What a source allows visitors to read of its events; no callout can go beyond it.</summary>
/// <param name="Name">Most of the name.</param>
/// <param name="Place">Finest place.</param>
/// <param name="ShowAmount">Whether the amount of money may be read.</param>
/// <param name="ShownFields">Own fields that may be read.</param>
/// <param name="RoundAmount">Whether the amount is rounded down and said with "+".</param>
public sealed record DisplayPolicy(
    NameStyle Name,
    PlaceLevel Place,
    bool ShowAmount,
    IReadOnlyList<string> ShownFields,
    bool RoundAmount = false
)
{
    /// <summary>The start for a kind of event: what belongs to it by nature may be read.</summary>
    public static DisplayPolicy For(EventKind kind) => Start with { ShownFields = EventFields.OfKind(kind) };

    /// <summary>First name and initial, city, no amounts, no further fields.</summary>
    public static DisplayPolicy Start { get; } = new(NameStyle.FirstAndInitial, PlaceLevel.City, false, []);
}
