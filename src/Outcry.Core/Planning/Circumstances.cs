using NodaTime;

namespace Outcry.Core.Planning;

/// <summary>What is so of a site at one moment, beside its events.</summary>
/// <param name="Zone">Its time zone.</param>
/// <param name="Traffic">Its recorded traffic.</param>
/// <param name="IsTeamThere">Whether somebody of the team is there.</param>
public sealed record Circumstances(DateTimeZone Zone, Traffic Traffic, bool IsTeamThere = true)
{
    /// <summary>Universal time, no traffic, a team that is there.</summary>
    public static Circumstances Plain { get; } = new(DateTimeZone.Utc, Traffic.None);
}
