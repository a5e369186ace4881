using System.Collections.Immutable;
using Microsoft.Net.Http.Headers;
using NodaTime;
using Outcry.Core.Care;
using Outcry.Core.Evidence;
using Outcry.Core.Pages;
using Outcry.Core.Saying;
using Outcry.Core.Visitors;
using Outcry.Server.Sites;
using Outcry.Store.Signals;

namespace Outcry.Server.Visitor;

/// <summary>Reads the facts of a page view from what the browser says of it. What makes no sense is left out, never refused.</summary>
internal static class ReadFacts
{
    private const int MostLanguages = 10;
    private const int MostAttributes = 20;
    private const int LongestText = 200;
    private const int FurthestOffsetMinutes = 18 * 60;

    public static VisitorFacts Of(PlanRequest request, Place place)
    {
        var attributes = Attributes(request.Attributes);
        return new VisitorFacts
        {
            Device = DeviceReader.FromViewWidth(request.Width),
            Languages = [.. (request.Languages ?? []).Where(LanguageTag.IsWellFormed).Take(MostLanguages)],
            Place = place,
            IsKnown = request.Known,
            Attributes = attributes,
            Tags = attributes.TryGetValue(VisitorFacts.TagsAttribute, out var tags)
                ? [.. tags.Split(',', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries)]
                : [],
            Agreed = request.Agreed,
            LocalOffset = Offset.FromSeconds(
                60 * Math.Clamp(request.Offset, -FurthestOffsetMinutes, FurthestOffsetMinutes)
            ),
        };
    }

    /// <summary>What is kept of a visit with its first page view. Of languages the header tells, since signals carry none.</summary>
    public static VisitTraits Traits(
        VisitorRecord visitor,
        IList<StringWithQualityHeaderValue> languages,
        Place place
    ) =>
        new(
            [
                .. languages
                    .OrderByDescending(l => l.Quality ?? 1)
                    .Select(l => l.Value.ToString())
                    .Where(LanguageTag.IsWellFormed)
                    .Take(VisitTraits.MostLanguages),
            ],
            place.Country,
            place.Region,
            place.City,
            visitor.Visit.WayIn.Referrer,
            visitor.Visit.WayIn.Campaign
        );

    /// <summary>By which way the visit came in, should it begin with this page.</summary>
    public static WayIn WayIn(LiveSite site, PageAddress page, string? referrer) =>
        new(
            page.ToNote(),
            VisitorDoor.HostOf(referrer ?? "") is { } host && !site.Allows(host) ? Short(host) : "",
            Campaign(page)
        );

    private static IReadOnlyDictionary<string, string> Campaign(PageAddress page)
    {
        var found = PageAddress
            .CampaignNames.Where(n => page.Query.ContainsKey($"utm_{n}"))
            .ToDictionary(n => n, n => Short(page.Query[$"utm_{n}"]));
        return found.Count == 0 ? ImmutableDictionary<string, string>.Empty : found;
    }

    private static IReadOnlyDictionary<string, string> Attributes(IReadOnlyDictionary<string, string>? given) =>
        given is null || given.Count == 0 ? ImmutableDictionary<string, string>.Empty : Read(given);

    // Two names that differ in case only are one name; what was said last counts.
    private static Dictionary<string, string> Read(IReadOnlyDictionary<string, string> given)
    {
        var read = new Dictionary<string, string>(StringComparer.OrdinalIgnoreCase);
        foreach (var (name, value) in given.Take(MostAttributes))
            if (value is not null)
                read[Short(name)] = Short(value);
        return read;
    }

    private static string Short(string text) => PlainText.Clip(PlainText.Clean(text), LongestText);
}
