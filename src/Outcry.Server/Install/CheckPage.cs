using AngleSharp.Html.Parser;
using Microsoft.AspNetCore.Http.HttpResults;
using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Explaining;
using Outcry.Core.Installing;
using Outcry.Core.Pages;
using Outcry.Core.Planning;
using Outcry.Core.Targeting;
using Outcry.Core.Visitors;
using Outcry.Server.Platform;
using Outcry.Server.Sites;

namespace Outcry.Server.Install;

internal sealed record CheckPageRequest(string Address);

/// <summary>What a callout would do on the page, for a new visitor.</summary>
/// <param name="Shows">Whether it may show.</param>
/// <param name="Decider">The page pattern that decided; null when no pattern did.</param>
/// <param name="Sentence">When it is due, or why it will not show.</param>
internal sealed record CalloutVerdictView(Guid Id, string Name, bool Shows, string? Decider, string Sentence);

/// <summary>One thing looked at in the page itself.</summary>
/// <param name="Passed">Null when it could not be looked at.</param>
internal sealed record PageTestView(string Name, bool? Passed, string Sentence);

/// <param name="HostAllowed">Whether the page's host is among the site's.</param>
/// <param name="HeardAt">When the page was last heard from; null for never in the last 30 days.</param>
internal sealed record PageCheckView(
    string Address,
    string Path,
    bool HostAllowed,
    Instant? HeardAt,
    int Views,
    IReadOnlyList<PageTestView> Tests,
    IReadOnlyList<CalloutVerdictView> Callouts
);

/// <summary>Looks at one page: is the line in it, may it speak, was it heard, and what would each callout do there.</summary>
internal static class CheckPage
{
    public static async Task<Results<Ok<PageCheckView>, ProblemHttpResult>> HandleAsync(
        Guid siteId,
        CheckPageRequest request,
        LiveSites sites,
        PageHearing hearing,
        SafeFetch fetch,
        HttpRequest http,
        IClock clock,
        CancellationToken stop
    )
    {
        if (PageAddress.TryParse(request.Address.Trim()) is not { } page)
            return Problems.BadField("address", "Write the page's whole address, with https:// at its beginning.");
        var site = sites.GetById(siteId);
        var now = clock.GetCurrentInstant();
        var allowed = site.Allows(page.Host);
        // A path of the same name on another host is another page.
        var heard = allowed ? await hearing.FindAsync(siteId, page.Path, now, stop) : null;
        // A page of somebody else's is not fetched: this is no window into other people's sites.
        var tests = allowed
            ? await LookAsync(request.Address.Trim(), site, fetch, new Uri($"{http.Scheme}://{http.Host}"), stop)
            :
            [
                new PageTestView(
                    "Host",
                    false,
                    $"{page.Host} is not among the site's hosts, so the snippet is not answered there. Add it below."
                ),
            ];
        var visitor = VisitorRecord.New("check", now).Arrive(now);
        var plan = Planner.MakePlan(site.Snapshot, page, visitor, VisitorFacts.Unknown, now, PlanOptions.Explained);
        if (!allowed)
            plan = new Plan([], [.. site.Callouts.Select(c => new LeftOut(c, new PageNotIncluded(0)))]);
        return TypedResults.Ok(
            new PageCheckView(
                request.Address.Trim(),
                page.Path,
                allowed,
                heard?.At,
                heard?.Views ?? 0,
                tests,
                [
                    .. plan.Armed.Select(a => Verdict(a.Callout, page, true, $"May show, {a.DueWords}.")),
                    .. plan.LeftOut.Select(l =>
                        Verdict(
                            l.Callout,
                            page,
                            false,
                            allowed
                                ? ReasonSentence.Say(l.Reason, site.Zone, _ => null)
                                : $"Nothing of this site shows on {page.Host}."
                        )
                    ),
                ]
            )
        );
    }

    private static CalloutVerdictView Verdict(Callout callout, PageAddress page, bool shows, string sentence) =>
        new(callout.Id, callout.Name, shows, callout.Targeting.Pages.Own.Decide(page).Decider?.Text, sentence);

    private static async Task<IReadOnlyList<PageTestView>> LookAsync(
        string address,
        LiveSite site,
        SafeFetch fetch,
        Uri desk,
        CancellationToken stop
    )
    {
        var fetched = await fetch.GetAsync(address, stop);
        if (fetched.Fault is { } fault)
            return [new PageTestView("Page", null, $"The page could not be looked at from here. {fault}")];
        var document = new HtmlParser().ParseDocument(fetched.Text);
        var lines = document.QuerySelectorAll("script[src],script[data-src]").ToList();
        var own = lines.FirstOrDefault(s => Source(s).Contains($"/o/{site.Key}.js", StringComparison.Ordinal));
        var other = lines.FirstOrDefault(s =>
            System.Text.RegularExpressions.Regex.IsMatch(Source(s), @"/o/[0-9a-f]{16}\.js")
        );
        var tests = new List<PageTestView>
        {
            own is not null ? new("Line", true, "The line stands in the page.")
            : other is not null
                ? new(
                    "Line",
                    false,
                    "A line of another site stands in the page: its key is not this site's. Copy the line above."
                )
            : new(
                "Line",
                null,
                "The line does not stand in the page as the server sends it. A tag manager may add it later; a cache may still serve the page from before."
            ),
        };
        if (own is not null)
            tests.Add(Consented(own));
        var meta = document.QuerySelector("meta[http-equiv='Content-Security-Policy' i]")?.GetAttribute("content");
        var blocking = ScriptPolicy.Blocks(fetched.Policy, desk) ?? ScriptPolicy.Blocks(meta, desk);
        tests.Add(
            blocking is null
                ? new("Policy", true, "No Content-Security-Policy stands in its way.")
                : new(
                    "Policy",
                    false,
                    $"The page's Content-Security-Policy stands in its way: add {desk.GetLeftPart(UriPartial.Authority)} to {blocking}."
                )
        );
        return tests;
    }

    // Consent tools keep a script from running by its type until the visitor agrees.
    private static PageTestView Consented(AngleSharp.Dom.IElement line)
    {
        var type = line.GetAttribute("type") ?? "";
        return type.Length == 0 || type.Contains("javascript", StringComparison.OrdinalIgnoreCase) || type == "module"
            ? new("Consent tool", true, "Nothing in the line keeps it from running.")
            : new(
                "Consent tool",
                false,
                $"The line has the type \"{type}\", so the browser does not run it until a consent tool lets it."
            );
    }

    private static string Source(AngleSharp.Dom.IElement script) =>
        script.GetAttribute("src") ?? script.GetAttribute("data-src") ?? "";
}
