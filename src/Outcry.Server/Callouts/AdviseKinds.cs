using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Evidence;
using Outcry.Core.Pages;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store;

namespace Outcry.Server.Callouts;

/// <summary>Ranks the kinds for a page group, or for the whole site, by what is recorded.</summary>
internal static class AdviseKinds
{
    public static async Task<Results<Ok<IReadOnlyList<KindAdvice>>, ProblemHttpResult>> HandleAsync(
        Guid siteId,
        OutcryDb db,
        LiveSites sites,
        GroupVisitors visitors,
        IClock clock,
        CancellationToken stop,
        Guid? group = null
    )
    {
        var site = sites.GetById(siteId);
        if (group is { } id && !site.Context.Groups.ContainsKey(id))
            return Problems.BadField("group", "There is no such page group on this site.");
        var rule = group is { } chosen ? site.Context.Groups[chosen].Rule : PageRule.Everywhere;
        var now = clock.GetCurrentInstant();
        var counted = await visitors.CountAsync(site, rule, now, stop);
        var week = site.Events.Where(e => e.State == EventState.Usable && now - e.At < Duration.FromDays(7));
        var usable = site.Events.Where(e => e.State == EventState.Usable).ToList();
        return TypedResults.Ok(
            KindAdviser.Rank(
                new GroupLife(
                    counted.Week,
                    site.Presence.Pages(now).Count(p => rule.Decide(p).Shown),
                    counted.BusyMinute,
                    week.Where(e => IsDeed(e.Kind)).Select(e => e.PersonKey).Distinct().Count(),
                    usable.Count(e => e.Kind is EventKind.Review or EventKind.Endorsement),
                    usable
                        .Where(e => e.Kind == EventKind.StockLevel)
                        .DistinctBy(e => e.Product?.Name ?? "")
                        .Count(e => LeftOf(e) is > 0 and <= StarterBrief.MostLeft),
                    usable.Where(e => e.Kind == EventKind.Total).Select(TotalOf).Max()
                )
            )
        );
    }

    private static bool IsDeed(EventKind kind) =>
        kind
            is EventKind.Purchase
                or EventKind.Booking
                or EventKind.SignUp
                or EventKind.Enquiry
                or EventKind.BasketAddition;

    private static decimal? LeftOf(LedgerEvent happened) => Number(happened, EventFields.Left);

    private static decimal? TotalOf(LedgerEvent happened) => Number(happened, EventFields.Total);

    private static decimal? Number(LedgerEvent happened, string field) =>
        decimal.TryParse(
            happened.Fields.GetValueOrDefault(field),
            System.Globalization.NumberStyles.Number,
            System.Globalization.CultureInfo.InvariantCulture,
            out var number
        )
            ? number
            : null;
}
