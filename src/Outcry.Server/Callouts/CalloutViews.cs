using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Explaining;
using Outcry.Core.Publishing;
using Outcry.Server.Publishing;
using Outcry.Server.Sites;

namespace Outcry.Server.Callouts;

/// <param name="Group">The team's own group for it; empty for none.</param>
/// <param name="Notes">What of a live callout wants looking at, with the reason where one is known.</param>
internal sealed record CalloutListView(
    Guid Id,
    string Name,
    string Group,
    DefinitionState State,
    CalloutStanding Stands,
    int Revision,
    bool HasChanges,
    Brief Brief,
    FiguresView Figures,
    IReadOnlyList<CalloutNoteView> Notes,
    Instant ChangedAt,
    string ChangedBy,
    Instant? GoneAt
);

/// <summary>What of a live callout wants looking at.</summary>
internal enum CalloutNote
{
    /// <summary>It still has its starter wording.</summary>
    StarterWording,

    /// <summary>What is live of it cannot be shown: something it names is gone, or its words cannot be said.</summary>
    CannotBeShown,

    /// <summary>What was published last cannot be shown; visitors see what was good before it, until the next start.</summary>
    ShownAsBefore,

    /// <summary>The snippet has not been heard since it went live.</summary>
    NotHeard,

    /// <summary>It went live less than a day ago and has not been shown yet.</summary>
    WaitingForFirst,

    /// <summary>It was not shown in the last 24 hours.</summary>
    NotShownLately,
}

/// <param name="Why">The likeliest reason, as a sentence; empty where the note says all.</param>
internal sealed record CalloutNoteView(CalloutNote Note, string Why, ControlPlace? Control);

/// <summary>A callout with its draft and what is live of it.</summary>
internal sealed record CalloutView(
    Guid Id,
    string Name,
    DefinitionState State,
    CalloutStanding Stands,
    int Revision,
    int DraftVersion,
    Brief Draft,
    Brief? Live,
    IReadOnlyList<ProblemView> Problems,
    bool UntouchedWording,
    Instant ChangedAt,
    string ChangedBy
)
{
    public static CalloutView Of(DeskDefinition<Brief> callout)
    {
        var (row, draft, live) = (callout.Row, callout.Draft, callout.Live?.Content);
        return new CalloutView(
            row.Id,
            row.Name,
            row.State,
            CalloutStandings.Of(row.State, live, SystemClock.Instance.GetCurrentInstant(), callout.Site.Zone),
            row.Revision,
            row.DraftVersion,
            draft,
            live,
            [
                .. callout.Problems.Select(p => new ProblemView(
                    BriefFields.FacetOf(p.Field),
                    p.Field,
                    p.Message,
                    p.Blocks,
                    p.Word
                )),
            ],
            StarterWording.IsUntouched(draft.Say.Message),
            row.ChangedAt,
            row.ChangedBy
        );
    }

    /// <summary>What is wrong or noteworthy in a brief of the site.</summary>
    public static IReadOnlyList<Problem> Check(Brief brief, LiveSite site) =>
        BriefKind.Instance.Check(brief, site.CheckSetting(SystemClock.Instance.GetCurrentInstant()));
}

/// <summary>Something in a brief that cannot go live, or that its author should know.</summary>
/// <param name="Facet">The sentence it stands in.</param>
/// <param name="Word">Of a text: the very word that is meant, or the token; empty for the whole.</param>
internal sealed record ProblemView(Facet Facet, string Field, string Message, bool Blocks, string Word);
