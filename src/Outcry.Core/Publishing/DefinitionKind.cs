using NodaTime;

namespace Outcry.Core.Publishing;

/// <summary>What a content is checked against: the site as it is at the moment.</summary>
/// <param name="Context">What the site's definitions share.</param>
/// <param name="Sources">The site's sources.</param>
/// <param name="Moment">When, and under which house rules.</param>
public sealed record CheckSetting(SiteContext Context, IReadOnlyCollection<SourceOffer> Sources, CheckMoment Moment)
{
    /// <summary>Whether another definition that a content names is live; all are where nobody can say.</summary>
    public Func<Guid, bool> IsLive { get; init; } = static _ => true;

    /// <summary>Whether a pool has no code left; none is empty where nobody can say.</summary>
    public Func<Guid, bool> IsPoolEmpty { get; init; } = static _ => false;

    /// <summary>Whether a host, with its port where it is not the scheme's own, is the site's; all are where nobody can say.</summary>
    public Func<string, bool> AllowsHost { get; init; } = static _ => true;
}

/// <summary>When and under what a content is checked.</summary>
/// <param name="Now">The moment.</param>
/// <param name="Zone">The site's time zone.</param>
/// <param name="Rules">The site's house rules.</param>
public sealed record CheckMoment(Instant Now, DateTimeZone Zone, HouseRules Rules);

/// <summary>A kind of thing that is drafted, checked, published, revised and put away: all that is its own about that.</summary>
/// <typeparam name="TContent">What its author edits and revisions freeze; kept as JSON.</typeparam>
/// <typeparam name="TCompiled">What visitors are served by.</typeparam>
public abstract class DefinitionKind<TContent, TCompiled>
    where TContent : class
    where TCompiled : class
{
    /// <summary>One of it in a word, as the store and the API name it: "callout".</summary>
    public abstract string Noun { get; }

    /// <summary>Everything wrong or noteworthy; whatever blocks keeps it off the air.</summary>
    public abstract IReadOnlyList<Problem> Check(TContent content, CheckSetting setting);

    /// <summary>Makes ready what visitors are served by.</summary>
    /// <exception cref="FormatException">The content is not valid after all, or a shared piece it names is gone.</exception>
    public abstract TCompiled Compile(Definition definition, TContent content, SiteContext context);

    /// <summary>The shared pieces it names.</summary>
    public abstract References ReferencesOf(TContent content);

    /// <summary>What it promises visitors in its own words, with nothing behind it but those; empty for nothing.</summary>
    public virtual string PromiseOf(TContent content) => "";

    /// <summary>It in a brand kit; the very same where a kit says nothing about it.</summary>
    public virtual TContent Dress(TContent content, BrandKit kit) => content;

    /// <summary>Why a content is larger than any that could be published, so that not even a draft of it is kept; null when it is not.</summary>
    public virtual string? TooLarge(TContent content) => null;

    /// <summary>A draft as it is kept: with whatever follows by itself from a change, such as starter words from the source.</summary>
    public virtual TContent Settle(TContent content, CheckSetting setting) => content;

    /// <summary>Elements of pages that it stands by or waits for, as selectors: pages are asked about them.</summary>
    public virtual IEnumerable<string> PlacesOf(TContent content) => [];
}
