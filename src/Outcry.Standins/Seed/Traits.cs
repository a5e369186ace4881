using System.Collections.Immutable;
using NodaTime;
using Outcry.Core.Evidence;
using Outcry.Core.Performing;
using Outcry.Core.Rehearsing;
using Outcry.Core.Visitors;

namespace Outcry.Standins.Seed;

/// <summary>Draws what simulated visitors hold, speak and come from, and how far they scroll.</summary>
internal sealed class Traits(Random chance)
{
    private const int StepPercent = 5;

    private static readonly (double Share, string Language, Place Place)[] Homes =
    [
        (0.22, "en-GB", new Place("Leeds", "Yorkshire", "England")),
        (0.16, "en-GB", new Place("York", "Yorkshire", "England")),
        (0.14, "en-GB", new Place("Manchester", "Greater Manchester", "England")),
        (0.14, "en-GB", new Place("Edinburgh", "Lothian", "Scotland")),
        (0.10, "en-IE", new Place("Dublin", "Leinster", "Ireland")),
        (0.09, "nl", new Place("Utrecht", "Utrecht", "Netherlands")),
        (0.09, "de", new Place("Cologne", "North Rhine", "Germany")),
        (0.06, "fr", new Place("Lille", "Hauts-de-France", "France")),
    ];

    private readonly Dictionary<string, VisitorFacts> _ofVisitor = [];

    /// <summary>The facts of a visitor, the same at every visit.</summary>
    public VisitorFacts Of(string visitorId)
    {
        if (_ofVisitor.TryGetValue(visitorId, out var known))
            return known;
        var (language, place) = Home();
        return _ofVisitor[visitorId] = new VisitorFacts
        {
            Device = chance.NextDouble() switch
            {
                < 0.52 => Device.Phone,
                < 0.59 => Device.Tablet,
                _ => Device.Desktop,
            },
            Languages = [language],
            Place = place,
        };
    }

    /// <summary>By which way a visit comes in.</summary>
    public WayIn WayIn() =>
        chance.NextDouble() switch
        {
            < 0.20 => Core.Visitors.WayIn.Unknown with { Referrer = "search.example" },
            < 0.28 => Core.Visitors.WayIn.Unknown with { Referrer = "crafts-weekly.example" },
            < 0.40 => Core.Visitors.WayIn.Unknown with
            {
                Campaign = ImmutableDictionary<string, string>
                    .Empty.Add("source", "newsletter")
                    .Add("medium", "email")
                    .Add("campaign", "winter-kiln"),
            },
            _ => Core.Visitors.WayIn.Unknown,
        };

    /// <summary>The page with its scrolling: the longer the stay, the further down.</summary>
    public (JourneyPage Page, int Depth) Scroll(JourneyPage page)
    {
        var patience = Math.Min(1, page.StayMs / 60_000.0);
        var depth = (int)(100 * Math.Clamp(0.15 + 0.5 * patience + 0.45 * chance.NextDouble(), 0.1, 1));
        var acts = Enumerable
            .Range(1, depth / StepPercent)
            .Select(step => step * StepPercent)
            .Select(percent => new Act(page.StayMs * percent / (depth + 1), ActKind.Scroll, Number: percent));
        return (page with { Acts = [.. acts] }, depth);
    }

    private (string Language, Place Place) Home()
    {
        var roll = chance.NextDouble();
        foreach (var (share, language, place) in Homes)
            if ((roll -= share) < 0)
                return (language, place);
        return (Homes[0].Language, Homes[0].Place);
    }
}
