using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Outcry.Core.Publishing;
using Outcry.Core.Targeting;
using Outcry.Server.Platform;
using Outcry.Store;

namespace Outcry.Server.Sites;

/// <summary>House rules as they are to be.</summary>
/// <param name="Rules">The new ones.</param>
/// <param name="Seen">Those that were looked at; rules that changed meanwhile are not overwritten unseen.</param>
internal sealed record HouseRulesRequest(HouseRules Rules, HouseRules Seen);

/// <summary>Holds a site to other house rules, at once and for every callout.</summary>
internal static class ChangeHouseRules
{
    public static async Task<Results<Ok<SiteView>, ProblemHttpResult>> HandleAsync(
        Guid siteId,
        HouseRulesRequest request,
        OutcryDb db,
        SiteNews news,
        TraceBook traces,
        CancellationToken stop
    )
    {
        var rules = request.Rules with
        {
            QuietPages = [.. request.Rules.QuietPages.Select(p => p.Trim()).Where(p => p.Length > 0).Distinct()],
            ConsentNotice = request.Rules.ConsentNotice.Trim(),
            KeepClear = request.Rules.KeepClear.Trim(),
        };
        if (HouseRulesCheck.Check(rules) is [var problem, ..])
            return Problems.BadField(problem.Field, problem.Message);
        var row = await db.Sites.FirstAsync(s => s.Id == siteId, stop);
        if (!AreSame(row.Rules, request.Seen))
            return Problems.Of(
                StatusCodes.Status409Conflict,
                "rules-changed",
                "The house rules have changed meanwhile",
                "A colleague saved other ones. Reload to see them before you change them."
            );
        traces.Add("changed the house rules of", row.Name, siteId, TraceBook.Between(row.Rules, rules));
        row.Rules = rules;
        await db.SaveChangesAsync(stop);
        await news.TellAsync(siteId, SiteChange.Definition);
        return TypedResults.Ok(SiteView.Of(row));
    }

    private static bool AreSame(HouseRules one, HouseRules other) =>
        one with { QuietPages = other.QuietPages } == other && one.QuietPages.SequenceEqual(other.QuietPages);
}
