using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Following;
using Outcry.Core.Publishing;
using Outcry.Server.Platform;
using Outcry.Server.Publishing;
using Outcry.Server.Sites;
using Outcry.Store;

namespace Outcry.Server.Leads;

/// <summary>A follow-up with its draft and what is live of it.</summary>
internal sealed record FollowUpView(
    Guid Id,
    string Name,
    DefinitionState State,
    int Revision,
    int DraftVersion,
    FollowUp Draft,
    FollowUp? Live,
    IReadOnlyList<FollowProblemView> Problems,
    Instant ChangedAt,
    string ChangedBy,
    Instant? GoneAt
)
{
    public static FollowUpView Of(DeskDefinition<FollowUp> follow)
    {
        var row = follow.Row;
        return new FollowUpView(
            row.Id,
            row.Name,
            row.State,
            row.Revision,
            row.DraftVersion,
            follow.Draft,
            follow.Live?.Content,
            [.. follow.Problems.Select(p => new FollowProblemView(p.Field, p.Message, p.Blocks))],
            row.ChangedAt,
            row.ChangedBy,
            row.DeletedAt + DefinitionQueries.Undo
        );
    }
}

/// <summary>Something in a follow-up that cannot go live, or that its author should know; its field names the line.</summary>
internal sealed record FollowProblemView(string Field, string Message, bool Blocks);

/// <summary>An imagined person who comes in.</summary>
/// <param name="FollowUp">As it is on the screen.</param>
/// <param name="Language">BCP 47 tag in which they read; empty for the site's own.</param>
/// <param name="FirstName">How they are called; may be empty.</param>
/// <param name="ComesAt">When they come in; null for now.</param>
internal sealed record RehearseFollowUpRequest(
    FollowUp FollowUp,
    string Language,
    string FirstName,
    Instant? ComesAt = null
);

/// <param name="ComesAt">When they come in.</param>
/// <param name="Gets">What becomes of them, in order.</param>
internal sealed record FollowCalendarView(Instant ComesAt, IReadOnlyList<FollowGetsView> Gets);

/// <param name="StepId">By which step.</param>
/// <param name="Mail">What is written to them; null for a tag and a webhook.</param>
/// <param name="Parts">Of a text message: in how many parts it goes, with how to take it back; else 0.</param>
internal sealed record FollowGetsView(
    Instant At,
    Guid StepId,
    FollowKind Kind,
    FollowMail? Mail,
    string Tag,
    int Parts
);

/// <summary>How people fare in a follow-up.</summary>
/// <param name="Came">How many came in.</param>
/// <param name="Inside">How many are in it.</param>
/// <param name="Here">How many are at each step.</param>
/// <param name="WentOn">How many have each step behind them.</param>
/// <param name="Ended">Why it is over for how many.</param>
internal sealed record FollowFiguresView(
    int Came,
    int Inside,
    IReadOnlyDictionary<Guid, int> Here,
    IReadOnlyDictionary<Guid, int> WentOn,
    IReadOnlyDictionary<FollowEnd, int> Ended
);

/// <summary>Begins follow-ups, rehearses them, counts who is where; drafting and publishing them is as with every definition.</summary>
internal static class FollowUpDesk
{
    private const int MostCounted = 50_000;

    public static async Task<Ok<List<FollowUpView>>> ListAsync(
        Guid siteId,
        DefinitionDesk<FollowUp, LiveFollowUp> desk,
        CancellationToken stop,
        bool archived = false,
        bool deleted = false
    ) =>
        TypedResults.Ok(
            (await desk.ListAsync(siteId, DefinitionQueries.ShelfOf(archived, deleted), stop)).ConvertAll(
                FollowUpView.Of
            )
        );

    public static async Task<Results<Created<FollowUpView>, ProblemHttpResult>> StartAsync(
        Guid siteId,
        DefinitionDesk<FollowUp, LiveFollowUp> desk,
        CancellationToken stop
    )
    {
        var (made, refusal) = await desk.StartAsync(siteId, "A new follow-up", FollowUp.Start, stop);
        return made is null
            ? refusal!
            : TypedResults.Created($"/api/sites/{siteId}/followups/{made.Row.Id}", FollowUpView.Of(made));
    }

    /// <summary>What an imagined person would get when; nothing is kept and nobody is written to.</summary>
    public static Results<Ok<FollowCalendarView>, ProblemHttpResult> Rehearse(
        Guid siteId,
        RehearseFollowUpRequest request,
        LiveSites sites,
        DeskAddress desk,
        HttpRequest http,
        IClock clock
    )
    {
        if (FollowUpKind.Instance.TooLarge(request.FollowUp) is { } large)
            return Problems.BadField("followUp", large);
        if (request.FollowUp.Steps.Any(s => s is null || s.Minutes is < 0 or > FollowUpKind.LongestWait))
            return Problems.BadField("followUp", "A step is not written to its end yet.");
        var (site, comes) = (sites.GetById(siteId), request.ComesAt ?? clock.GetCurrentInstant());
        if (
            comes < clock.GetCurrentInstant() - Duration.FromDays(366)
            || comes > clock.GetCurrentInstant() + Duration.FromDays(366)
        )
            return Problems.BadField("comesAt", "Choose a moment within a year of today.");
        var values = new Dictionary<string, string> { ["first_name"] = request.FirstName };
        var leave = desk.Of(http) + LeadLink.PathOf(site, LeadAct.Leave, siteId, null);
        return TypedResults.Ok(
            new FollowCalendarView(
                comes,
                [
                    .. FollowWalk
                        .Calendar(request.FollowUp, comes, site.Zone)
                        .Select(g => new FollowGetsView(
                            g.At,
                            g.Step.Id,
                            g.Step.Kind,
                            g.Step.Writes
                                ? FollowText.Write(g.Step, request.Language, site.Context.Language, values)
                                : null,
                            g.Step.Tag,
                            g.Step.Kind == FollowKind.Text
                                ? ShortMessage.Parts(LeadLetters.TextOf(site, g.Step, request.Language, values, leave))
                                : 0
                        )),
                ]
            )
        );
    }

    /// <summary>Who is where, and why it is over for whom.</summary>
    public static async Task<Ok<FollowFiguresView>> CountAsync(
        Guid siteId,
        Guid followUpId,
        OutcryDb db,
        CancellationToken stop
    )
    {
        var runs = await db
            .FollowRuns.AsNoTracking()
            .Where(r => r.SiteId == siteId && r.FollowUpId == followUpId)
            .OrderByDescending(r => r.BegunAt)
            .Take(MostCounted)
            .Select(r => new
            {
                r.StepId,
                r.Passed,
                r.End,
            })
            .ToListAsync(stop);
        return TypedResults.Ok(
            new FollowFiguresView(
                runs.Count,
                runs.Count(r => r.End is null),
                runs.Where(r => r.End is null && r.StepId is not null).CountBy(r => r.StepId!.Value).ToDictionary(),
                runs.SelectMany(r => r.Passed).CountBy(id => id).ToDictionary(),
                runs.Where(r => r.End is not null).CountBy(r => r.End!.Value).ToDictionary()
            )
        );
    }
}
