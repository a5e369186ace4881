using System.Globalization;
using Outcry.Core.Briefs;
using Outcry.Core.Pages;
using Outcry.Core.Rehearsing;
using Outcry.Server.Sites;

namespace Outcry.Server.RunSheet;

/// <summary>Reads a change that is tried out from an address, and writes it there.</summary>
internal static class TriedChange
{
    public static (BriefChange? Change, Callout? Callout, string? Problem) Read(string? text, LiveSite site)
    {
        if (string.IsNullOrEmpty(text))
            return (null, null, null);
        if (text.Split('.', 3) is not [var kind, var id, var value] || !Guid.TryParse(id, out var calloutId))
            return (null, null, "A change reads wait, priority or leaveOut, then the callout, then the value.");
        if (site.Snapshot.Callouts.FirstOrDefault(c => c.Id == calloutId && c.Greets is null) is not { } callout)
            return (null, null, "The callout of this change is not live any more.");
        BriefChange? change = kind switch
        {
            "wait" when Number(value) is { } seconds and <= 3_600 => new WaitFor(seconds),
            "priority" when Number(value) is { } priority and >= 1 and <= 9 => new GoAt(priority),
            "leaveOut"
                when Guid.TryParse(value, out var group) && site.Context.Groups.TryGetValue(group, out var known) =>
                new ExcludePages([.. known.Rule.Includes.Select(p => p.Text)]),
            "leaveOut" when PagePattern.TryParse(value, out _) is { Host: null } page => new ExcludePages([page.Text]),
            _ => null,
        };
        return change is null ? (null, null, "The change names a value that cannot be.") : (change, callout, null);
    }

    public static string Write(Guid callout, BriefChange change, Guid group) =>
        change switch
        {
            WaitFor wait => $"wait.{callout}.{wait.Seconds}",
            GoAt go => $"priority.{callout}.{go.Priority}",
            ExcludePages left when group == Guid.Empty => $"leaveOut.{callout}.{left.Patterns[0]}",
            _ => $"leaveOut.{callout}.{group}",
        };

    private static int? Number(string text) =>
        int.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out var number) ? number : null;
}
