using Outcry.Core.Asking;
using Outcry.Core.Evidence;
using Outcry.Core.Pages;
using Outcry.Core.Publishing;
using Outcry.Core.Targeting;

namespace Outcry.Core.Briefs;

/// <summary>Checks a brief against the rules of the job.</summary>
public static class BriefCheck
{
    /// <summary>Everything wrong or noteworthy in the brief, in the order of its facets; none when it may go live.</summary>
    /// <param name="brief">The brief.</param>
    /// <param name="offers">The site's sources.</param>
    /// <param name="shared">What the site's callouts share; nothing when left out.</param>
    /// <param name="moment">When it is checked and under which house rules; neither is looked at when left out.</param>
    /// <param name="allows">Whether a host is the site's; every host is where nobody can say.</param>
    public static IReadOnlyList<Problem> Problems(
        Brief brief,
        IReadOnlyCollection<SourceOffer> offers,
        SiteContext? shared = null,
        CheckMoment? moment = null,
        Func<string, bool>? allows = null
    )
    {
        shared ??= SiteContext.Nothing;
        var chosen = offers.Where(o => brief.From.Sources.Contains(o.Id)).ToList();
        return
        [
            .. SayCheck.Problems(brief, chosen, shared),
            .. FromCheck.Problems(brief, chosen),
            .. TargetingCheck.Problems(brief.Targeting, shared, offers, moment),
            .. WhenCheck.Problems(brief, moment),
            .. Rank(brief.Priority),
            .. LookCheck.Problems(brief),
            .. brief.Kind == CalloutKind.Prompt
                ? AskCheck
                    .Problems(brief.Ask, [.. brief.Say.Translations.Select(t => t.Language)], allows)
                    // Whatever is wrong with what it asks, it can be drawn as it is: somebody is about to put it right.
                    .Select(p => p with { MayBeStaged = true })
                : [],
        ];
    }

    private static IEnumerable<Problem> Rank(int priority)
    {
        if (priority is < 1 or > 9)
            yield return new Problem("priority", "The priority is between 1 (first) and 9.");
    }
}
