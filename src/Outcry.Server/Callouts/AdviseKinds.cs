using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Evidence;
using Outcry.Core.Pages;
using Outcry.Core.Planning;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store;

namespace Outcry.Server.Callouts;

/// <summary>Ranks the kinds for a page group, or for the whole site, by what is recorded.</summary>
internal static class AdviseKinds
{
    /// <summary>How long a visitor stays among those who are here, on an average page view.</summary>
    private static readonly Duration UsualStay = Duration.FromMinutes(1.5);

    public static async Task<Results<Ok<IReadOnlyList<KindAdvice>>, ProblemHttpResult>> HandleAsync(
        Guid siteId,
        OutcryDb db,
        LiveSites sites,
        TrafficReader reader,
        IClock clock,
        CancellationToken stop,
        Guid? group = null
    )
    {
        var site = sites.GetById(siteId);
        if (group is { } id && !site.Shared.Groups.ContainsKey(id))
            return Problems.BadField("group", "There is no such page group on this site.");
        var rule = group is { } chosen ? site.Shared.Groups[chosen].Rule : PageRule.Everywhere;
        var traffic = await reader.ReadAsync(siteId, stop);
        var views = traffic.ViewsADay(p => rule.Decide(p).Shown);
        var visitors = views / PagesPerVisit;
        var now = clock.GetCurrentInstant();
        var week = site.Events.Where(e => e.State == EventState.Usable && now - e.At < Duration.FromDays(7));
        var usable = site.Events.Where(e => e.State == EventState.Usable).ToList();
        return TypedResults.Ok(
            KindAdviser.Rank(
                new GroupLife(
                    visitors,
                    site.PagesNow(now).Count(p => rule.Decide(p).Shown),
                    // A day's visitors come within some ten hours.
                    visitors * UsualStay.TotalHours / 10,
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

    /// <summary>Page views of a visit, as a rule of thumb, where only views are summed.</summary>
    private const double PagesPerVisit = 3;

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
