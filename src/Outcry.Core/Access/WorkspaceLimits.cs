using System.Globalization;
using Outcry.Core.Publishing;

namespace Outcry.Core.Access;

/// <summary>What happens when the month's visitors are used up.</summary>
public enum AtLimit
{
    /// <summary>Everything goes on, and the owners are told.</summary>
    GoOn,

    /// <summary>The workspace's sites go off air until the month is over, and the owners are told.</summary>
    GoQuiet,
}

/// <summary>How far a workspace may go; null is as far as it likes.</summary>
/// <param name="VisitorsAMonth">Different visitors in a calendar month (UTC), over all sites.</param>
/// <param name="CalloutsLive">Callouts live at once, over all sites.</param>
/// <param name="Sites">Sites.</param>
/// <param name="AtVisitors">What happens when the visitors are used up.</param>
public sealed record WorkspaceLimits(int? VisitorsAMonth, int? CalloutsLive, int? Sites, AtLimit AtVisitors)
{
    /// <summary>Share of a limit from which it is warned of.</summary>
    public const double WarnFrom = 0.8;

    /// <summary>None.</summary>
    public static WorkspaceLimits None { get; } = new(null, null, null, AtLimit.GoOn);

    /// <summary>What is wrong with them; empty for nothing.</summary>
    public IReadOnlyList<Problem> Check() =>
        [
            .. new (string Field, int? Value)[]
            {
                ("visitorsAMonth", VisitorsAMonth),
                ("calloutsLive", CalloutsLive),
                ("sites", Sites),
            }
                .Where(l => l.Value is < 1 or > 1_000_000_000)
                .Select(l => new Problem(l.Field, "A limit is a whole number from 1; leave it empty for none.")),
        ];

    /// <summary>Whether a use is near enough to its limit to be warned of, or beyond it.</summary>
    public static bool IsNear(int? limit, int use) => limit is { } most && use >= most * WarnFrom;

    /// <summary>The sentences that an owner should read now; empty while nothing is near.</summary>
    public IReadOnlyList<string> Warnings(int visitors, int callouts, int sites) =>
        [
            .. new[]
            {
                Warning(VisitorsAMonth, visitors, "visitors of this month"),
                Warning(CalloutsLive, callouts, "callouts live at once"),
                Warning(Sites, sites, "sites"),
            }.OfType<string>(),
        ];

    private static string? Warning(int? limit, int use, string what) =>
        !IsNear(limit, use) ? null
        : use >= limit ? string.Create(CultureInfo.InvariantCulture, $"All {limit:N0} {what} are used.")
        : string.Create(CultureInfo.InvariantCulture, $"{use:N0} of {limit:N0} {what} are used.");
}
