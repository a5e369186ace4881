using System.Globalization;
using Outcry.Core.Explaining;

namespace Outcry.Core.Rehearsing;

/// <summary>Says in words what rehearsals found.</summary>
public static class RehearsalWords
{
    /// <summary>A difference as a clause: "shows \"Ines K.\" at 0:22 instead of 0:04".</summary>
    /// <param name="difference">The difference.</param>
    /// <param name="nameOf">Names callouts; null for one that is gone.</param>
    public static string Say(Difference difference, Func<Guid, string?> nameOf)
    {
        var name = $"\"{nameOf(difference.Callout) ?? "A callout"}\"";
        return (difference.Before.StartMs, difference.After.StartMs) switch
        {
            ({ } was, { } becomes) =>
                $"moves {name} from {ReasonSentence.Clock(was)} to {ReasonSentence.Clock(becomes)}",
            (null, { } becomes) => $"shows {name} at {ReasonSentence.Clock(becomes)}",
            _ => $"no longer shows {name}",
        };
    }

    /// <summary>What was taken for granted of a visitor to make a rule fit, clause by clause.</summary>
    /// <param name="start">From whom the casting started.</param>
    /// <param name="cast">Who came out.</param>
    public static IReadOnlyList<string> Assumed(ImaginedVisitor start, ImaginedVisitor cast) =>
        [.. Clauses(start, cast).OfType<string>()];

    private static IEnumerable<string?> Clauses(ImaginedVisitor a, ImaginedVisitor b)
    {
        yield return a.VisitNumber == b.VisitNumber ? null : $"in visit number {b.VisitNumber}";
        yield return a.HoursSinceLastVisit == b.HoursSinceLastVisit
            ? null
            : $"last here {Ago(b.HoursSinceLastVisit)} ago";
        yield return a.PagesBefore == b.PagesBefore ? null : $"after {Count(b.PagesBefore, "page")} in this visit";
        yield return a.PagesEver == b.PagesEver ? null : $"after {Count(b.PagesEver, "page")} ever";
        yield return a.SecondsOnSite == b.SecondsOnSite ? null : $"{b.SecondsOnSite} s on the site";
        yield return a.Device == b.Device ? null : $"on a {b.Device.ToString().ToLowerInvariant()}";
        yield return a.Languages.SequenceEqual(b.Languages) ? null : $"reading {string.Join(", ", b.Languages)}";
        yield return PlaceOf(a) == PlaceOf(b) ? null : $"from {(PlaceOf(b).Length > 0 ? PlaceOf(b) : "nowhere known")}";
        yield return a.LocalHour == b.LocalHour ? null : $"at {b.LocalHour}:00 on the visitor's clock";
        yield return a.IsKnown == b.IsKnown ? null
        : b.IsKnown ? "signed in"
        : "anonymous";
        yield return Text(a.EntryPage, b.EntryPage, "entering by {0}");
        yield return Text(a.Referrer, b.Referrer, "led here by {0}");
        foreach (var (key, value) in b.Campaign.Except(a.Campaign))
            yield return $"by campaign {key} {value}";
        foreach (var (key, value) in b.Attributes.Except(a.Attributes))
            yield return $"with {key} {value}";
        foreach (var tag in b.Tags.Except(a.Tags))
            yield return $"tagged {tag}";
        foreach (var deed in b.PastEvents.Except(a.PastEvents))
            yield return deed.Kind == Evidence.EventKind.Purchase
                ? $"having bought {(deed.Product.Length > 0 ? deed.Product : "something")}"
                : "having sent a form";
        yield return a.Saw.Count == b.Saw.Count ? null : "having seen what the segment asks for";
        yield return a.Closed.Count == b.Closed.Count ? null : "having closed what the segment asks for";
    }

    private static string PlaceOf(ImaginedVisitor v) =>
        string.Join(", ", new[] { v.City, v.Region, v.Country }.Where(p => p.Length > 0));

    private static string? Text(string before, string after, string words) =>
        before == after ? null
        : after.Length == 0 ? string.Format(CultureInfo.InvariantCulture, words, "nowhere known")
        : string.Format(CultureInfo.InvariantCulture, words, after);

    private static string Ago(int hours) => hours % 24 == 0 ? Count(hours / 24, "day") : Count(hours, "hour");

    private static string Count(int number, string noun) => $"{number} {noun}{(number == 1 ? "" : "s")}";
}
