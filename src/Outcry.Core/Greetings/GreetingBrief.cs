using Outcry.Core.Briefs;
using Outcry.Core.Evidence;
using Outcry.Core.Targeting;
using Outcry.Core.Visitors;

namespace Outcry.Core.Greetings;

/// <summary>Reads a rung as what it is once it is due: a callout that draws on no events.</summary>
internal static class GreetingBrief
{
    /// <summary>Which of two floating callouts goes first is for their authors to say; greetings stand in the middle.</summary>
    private const int Priority = 5;

    public static Brief Of(Rung rung, LauncherLook look)
    {
        var own = rung.Words.Count > 0 ? rung.Words[0] : new GreetingWords("", "", []);
        var start = StarterBrief.For(CalloutKind.Notice, EventKind.Purchase, []);
        return start with
        {
            Say = start.Say with
            {
                Message = own.Words,
                Translations = [.. rung.Words.Skip(1).Select(w => new Wording(w.Language, w.Words, "", ""))],
                Picture = SayPicture.None,
            },
            Where = rung.Where,
            Who = rung.Who with { Rule = RuleOf(rung) },
            When = new WhenFacet(
                rung.When.Triggers,
                rung.When.Join,
                1,
                StarterBrief.TurnGapSeconds,
                1,
                rung.When.Schedule,
                rung.When.OnlyIfAvailable
            ),
            HowOften = rung.HowOften,
            Look = start.Look with
            {
                Shape = Shape.Bubble,
                Side = look.Side,
                Band = look.Band,
                Ground = look.Ground,
                StaySeconds = rung.StaySeconds,
            },
            Priority = Priority,
        };
    }

    // A language is asked for as any other fact is, so that what it refuses is explained as any other fact is.
    private static VisitorRule RuleOf(Rung rung) =>
        rung.Languages.Count == 0
            ? rung.Who.Rule
            : new AllOf([
                rung.Who.Rule,
                new AnyOf([.. rung.Languages.Select(l => new FactTest(VisitorFact.Language, FactComparison.Is, l))]),
            ]);
}
