using Outcry.Core.Publishing;
using Outcry.Core.Scripts;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Standins.Seed;

// Its scripts: what is asked before somebody of the studio answers.
internal sealed partial class Definitions
{
    private readonly Guid _groupVisit = Guid.CreateVersion7();

    /// <summary>The group that answers about workshops.</summary>
    public Guid Workshops { get; } = Guid.CreateVersion7();

    /// <summary>The scripts, with the day of the past on which each went live.</summary>
    public IEnumerable<(DefinitionRow Row, int LiveFromDay)> Scripts()
    {
        yield return (
            new DefinitionRow
            {
                Id = _groupVisit,
                WorkspaceId = Workspace.Id,
                SiteId = Site.Id,
                Name = "Group visit",
                State = DefinitionState.Draft,
                Kind = ScriptKind.Name,
                Draft = KeptContent.Of(GroupVisit()),
                DraftVersion = 1,
                CreatedAt = start,
                ChangedAt = start,
                ChangedBy = "Ines Okoro",
            },
            5
        );
    }

    private Script GroupVisit()
    {
        static Step At(int indent, StepKind kind, params StepWords[] words) =>
            new(Guid.CreateVersion7(), indent, kind, words);
        static StepWords[] Both(string english, string dutch) => [new("", english, [], ""), new("nl", dutch, [], "")];
        static Question Asks(AskKind kind, string field) => new(kind, field, OwnWords: false, [], null, null);
        return new Script(
            [
                At(0, StepKind.Ask, Both("Lovely. How many are you?", "Leuk. Met hoeveel zijn jullie?")) with
                {
                    Ask = Asks(AskKind.Number, "party") with { Least = 1, Most = 40 },
                },
                At(0, StepKind.If) with
                {
                    If = new ScriptCondition(ConditionOn.Answer, "party", ConditionTest.MoreThan, "8"),
                },
                At(
                    1,
                    StepKind.Say,
                    Both(
                        "For more than eight we open a second kiln day.",
                        "Voor meer dan acht openen we een tweede ovendag."
                    )
                ),
                At(
                    0,
                    StepKind.Ask,
                    new StepWords("", "When would suit you?", [], "That one has gone, I am afraid. One of these?"),
                    new StepWords("nl", "Wanneer komt het uit?", [], "Die is net weg. Een van deze?")
                ) with
                {
                    Ask = Asks(AskKind.Time, "when") with
                    {
                        Times = new TimeOffer("A group visit", Minutes: 120, NoticeHours: 48, DaysAhead: 30),
                    },
                },
                At(
                    0,
                    StepKind.Ask,
                    new StepWords(
                        "",
                        "May we write to you about it? We keep your address for that alone.",
                        ["Yes", "No"],
                        ""
                    ),
                    new StepWords(
                        "nl",
                        "Mogen we je erover schrijven? We bewaren je adres alleen daarvoor.",
                        ["Ja", "Nee"],
                        ""
                    )
                ) with
                {
                    Ask = Asks(AskKind.Consent, "consent"),
                },
                At(0, StepKind.If) with
                {
                    If = new ScriptCondition(ConditionOn.Answer, "consent", ConditionTest.Is, "yes"),
                },
                At(1, StepKind.Ask, Both("Where may we write to?", "Waar mogen we heen schrijven?")) with
                {
                    Ask = Asks(AskKind.Email, "e_mail"),
                },
                At(0, StepKind.HandOver) with
                {
                    To = HandTo.Group,
                    GroupId = Workshops,
                },
                At(
                    1,
                    StepKind.Say,
                    Both(
                        "Nobody is at the desk just now. We answer {{ next_opening | default: \"soon\" }}.",
                        "Er is nu niemand. We antwoorden {{ next_opening | default: \"snel\" }}."
                    )
                ),
            ],
            ScriptStarter.LineSeconds,
            ScriptStarter.SilenceMinutes,
            Both(
                "Something went wrong on our side. One of us reads what you wrote.",
                "Er ging iets mis bij ons. Een van ons leest wat je schreef."
            )
        );
    }
}
