using NodaTime;
using Outcry.Core.Targeting;
using Outcry.Core.Visitors;
using Outcry.Server.Sites;

namespace Outcry.Server.Visitor;

/// <summary>Folds what the browser noted since its last passport into the visitor's record.</summary>
internal static class VisitorLog
{
    /// <summary>Entries taken at most; a page view cannot come to more.</summary>
    private const int MostEntries = 50;

    private const int LongestKey = 24;

    public static VisitorRecord Fold(LiveSite site, VisitorRecord visitor, IReadOnlyList<LogEntry>? log, Instant now)
    {
        foreach (var entry in (log ?? []).Take(MostEntries).OrderByDescending(e => e.AgoMs))
        {
            if (entry.Key is { Length: > 0 and <= LongestKey } key)
            {
                // Another tab's passport may have it already, or this one had it and another took its place.
                if (visitor.Noted.Contains(key))
                    continue;
                visitor = visitor.WithNoted(key);
            }
            if (site.Callouts.FirstOrDefault(c => c.Id == entry.Callout) is not { } callout)
                continue;
            var at = now - Duration.FromMilliseconds(Math.Clamp(entry.AgoMs, 0, 365L * 24 * 3600 * 1000));
            var takesPlace = callout.Class is CalloutClass.Floating or CalloutClass.Dialog;
            visitor = entry.What switch
            {
                "start" => visitor.Started(callout.Id, at, takesPlace),
                "ask" => visitor.Started(callout.Id, at, takesBudget: false),
                "end" => takesPlace ? visitor.Ended(at) : visitor,
                "close" => visitor.Closed(callout.Id, at, callout.Targeting.Hush, callout.Class == CalloutClass.Dialog),
                "click" => visitor.Clicked(callout.Id, at),
                _ => visitor,
            };
        }
        return visitor;
    }
}
