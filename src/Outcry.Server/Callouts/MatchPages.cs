using Microsoft.AspNetCore.Http.HttpResults;
using Outcry.Core.Pages;
using Outcry.Server.Sites;

namespace Outcry.Server.Callouts;

internal sealed record MatchRequest(
    IReadOnlyList<string> Includes,
    IReadOnlyList<string> Excludes,
    IReadOnlyList<Guid>? Groups = null
);

/// <summary>A known page and what the rule makes of it.</summary>
/// <param name="QuietBy">The house rule's pattern by which nothing is shown there at all; null for none.</param>
internal sealed record PageMatchView(string Path, double ViewsADay, bool Shown, string? Decider, string? QuietBy);

/// <summary>A pattern and how many known pages it alone means, or what is wrong with it.</summary>
/// <param name="Pattern">As typed.</param>
/// <param name="Reading">What a pasted address was turned into; the pattern itself otherwise.</param>
internal sealed record PatternView(string Pattern, string Reading, int Pages, string? Problem, string? Hint);

/// <param name="UsualExcludes">Pages that show now and are usually left out.</param>
internal sealed record MatchView(
    int Known,
    int Shown,
    IReadOnlyList<PageMatchView> Pages,
    IReadOnlyList<PatternView> Includes,
    IReadOnlyList<PatternView> Excludes,
    IReadOnlyList<UsualExclude> UsualExcludes
);

/// <summary>Tries a page rule on the pages the snippet has been heard from.</summary>
internal static class MatchPages
{
    private const int PagesListed = 200;

    public static async Task<Ok<MatchView>> HandleAsync(
        Guid siteId,
        MatchRequest request,
        LiveSites sites,
        TrafficReader reader,
        CancellationToken stop
    )
    {
        var site = sites.GetById(siteId);
        var traffic = await reader.ReadAsync(siteId, stop);
        var pages = traffic.Pages.Select(p => (Traffic: p, Address: p.Page)).ToList();
        var scope = new PageScope(
            new PageRule(Valid(request.Includes), Valid(request.Excludes)),
            [.. (request.Groups ?? []).Select(g => site.Context.Groups.GetValueOrDefault(g)).OfType<PageGroup>()]
        );
        var decided = pages
            .Select(p => (p.Traffic, Verdict: scope.Decide(p.Address)))
            .OrderByDescending(p => p.Verdict.Shown)
            .ThenByDescending(p => p.Verdict.Decider is not null)
            .ThenByDescending(p => p.Traffic.Views)
            .ToList();
        return TypedResults.Ok(
            new MatchView(
                pages.Count,
                decided.Count(d => d.Verdict.Shown),
                [
                    .. decided
                        .Take(PagesListed)
                        .Select(d => new PageMatchView(
                            d.Traffic.Path,
                            Math.Round(d.Traffic.Views / traffic.Days, 1),
                            d.Verdict.Shown,
                            d.Verdict.Decider?.Text,
                            site.Rules.QuietBy(d.Traffic.Page)?.Text
                        )),
                ],
                [.. request.Includes.Select(Describe)],
                [.. request.Excludes.Select(Describe)],
                Core.Pages.UsualExcludes.Among([.. decided.Where(d => d.Verdict.Shown).Select(d => d.Traffic.Path)])
            )
        );

        PatternView Describe(string text)
        {
            var pasted = PastedAddress.Read(text, site.AllowedHosts);
            var pattern = PagePattern.TryParse(pasted.Pattern, out var error);
            return new PatternView(
                text,
                pasted.Pattern,
                pattern is null ? 0 : pages.Count(p => pattern.Matches(p.Address)),
                pattern is null ? error : null,
                pasted.Hint
            );
        }
    }

    private static List<PagePattern> Valid(IReadOnlyList<string> patterns) =>
        [.. patterns.Select(p => PagePattern.TryParse(p, out _)).OfType<PagePattern>()];
}
