using NodaTime;
using Outcry.Core.Asking;
using Outcry.Core.Claims;
using Outcry.Core.Greetings;

namespace Outcry.Core.Planning;

/// <summary>What was last said of an element on a page.</summary>
/// <param name="Found">Whether it was there.</param>
/// <param name="InView">Whether it was in view as the page was arrived at.</param>
public readonly record struct SeenPlace(bool Found, bool InView);

/// <summary>What is so of a site at one moment, beside its events.</summary>
/// <param name="Zone">Its time zone.</param>
/// <param name="Traffic">Its recorded traffic.</param>
public sealed record SiteConditions(DateTimeZone Zone, Traffic Traffic)
{
    /// <summary>Who of the team is there.</summary>
    public TeamThere Team { get; init; } = TeamThere.All;

    /// <summary>What recorded visitors' browsers said of a place in the page, by path and selector; null for what nobody has said.</summary>
    public Func<string, string, SeenPlace?> PlaceOf { get; init; } = static (_, _) => null;

    /// <summary>Its live launchers; their greetings are among its callouts.</summary>
    public IReadOnlyList<Launcher> Launchers { get; init; } = [];

    /// <summary>What a visitor has answered to prompts so far.</summary>
    public Func<string, AskedBefore> AskedBefore { get; init; } = static _ => Asking.AskedBefore.Nothing;

    /// <summary>Whether a pool of codes is empty.</summary>
    public Func<Guid, bool> IsPoolEmpty { get; init; } = static _ => false;

    /// <summary>Universal time, no traffic, a team that is there.</summary>
    public static SiteConditions Plain { get; } = new(DateTimeZone.Utc, Traffic.None);
}
