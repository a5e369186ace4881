using NodaTime;
using Outcry.Core.Publishing;

namespace Outcry.Core.Briefs;

/// <summary>How a callout stands at a moment: its state, and for one that is live what its dates make of it.</summary>
public enum CalloutStanding
{
    /// <summary>Never published.</summary>
    Draft,

    /// <summary>Published, and its first date is still to come.</summary>
    Scheduled,

    /// <summary>On air.</summary>
    Live,

    /// <summary>Published, and its last date has passed.</summary>
    Ended,

    /// <summary>Taken off air for a while.</summary>
    Paused,

    /// <summary>Put away.</summary>
    Archived,
}

/// <summary>Tells how callouts stand.</summary>
public static class CalloutStandings
{
    /// <summary>The standing of a callout; its weekly hours make no difference to it.</summary>
    /// <param name="state">Its state.</param>
    /// <param name="published">What of it was published; null for nothing.</param>
    /// <param name="now">When.</param>
    /// <param name="zone">The site's time zone.</param>
    public static CalloutStanding Of(DefinitionState state, Brief? published, Instant now, DateTimeZone zone) =>
        state switch
        {
            DefinitionState.Draft => CalloutStanding.Draft,
            DefinitionState.Paused => CalloutStanding.Paused,
            DefinitionState.Archived => CalloutStanding.Archived,
            _ when published?.When.Schedule is { } schedule => schedule.StartAt(zone) > now ? CalloutStanding.Scheduled
            : schedule.EndAt(zone) <= now ? CalloutStanding.Ended
            : CalloutStanding.Live,
            _ => CalloutStanding.Live,
        };
}
