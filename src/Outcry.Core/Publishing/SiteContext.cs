using System.Collections.Immutable;
using Outcry.Core.Pages;
using Outcry.Core.Visitors;

namespace Outcry.Core.Publishing;

/// <summary>What the callouts of a site share: its segments, its page groups, and how it speaks.</summary>
/// <param name="Segments">By id.</param>
/// <param name="Groups">By id.</param>
/// <param name="Language">BCP 47 tag of the site's own language.</param>
/// <param name="OwnWords">Built-in words the site replaced, by language, then by key.</param>
public sealed record SiteContext(
    IReadOnlyDictionary<Guid, Segment> Segments,
    IReadOnlyDictionary<Guid, PageGroup> Groups,
    string Language,
    IReadOnlyDictionary<string, IReadOnlyDictionary<string, string>> OwnWords
)
{
    /// <summary>Where numbers without a country code are dialled: ISO 3166-1, two letters.</summary>
    public string Region { get; init; } = Care.PhoneNumber.UnknownRegion;

    /// <summary>Domains at which the team itself has its mail.</summary>
    public IReadOnlyCollection<string> OwnDomains { get; init; } = [];

    /// <summary>Nothing shared, English spoken.</summary>
    public static SiteContext Nothing { get; } =
        new(
            ImmutableDictionary<Guid, Segment>.Empty,
            ImmutableDictionary<Guid, PageGroup>.Empty,
            "en",
            ImmutableDictionary<string, IReadOnlyDictionary<string, string>>.Empty
        );

    /// <summary>The site's own words for a language, by the longest match of its tag; null for none.</summary>
    public IReadOnlyDictionary<string, string>? WordsOf(string language) =>
        Saying
            .LanguageTag.Chain(language)
            .Select(t => OwnWords.GetValueOrDefault(t))
            .FirstOrDefault(w => w is not null);
}
