using System.Collections.Immutable;
using NodaTime;
using Outcry.Core.Pages;
using Outcry.Core.Scripts;

namespace Outcry.Core.Tests.Scripts;

/// <summary>Scripts: what they ask and understand, where they go on, what is found wrong with them, and their laws.</summary>
public sealed class ScriptTests
{
    private static readonly Guid Member = Guid.NewGuid();

    private static Circumstances Now(string language = "en", params Guid[] here) =>
        new(
            language,
            "en",
            PageAddress.TryParse("https://emberwick.example/workshops/raku-day")!,
            new HashSet<Guid>(),
            IsKnown: false,
            IsOpen: here.Length > 0,
            here,
            new HashSet<Guid>(),
            new LocalDate(2015, 11, 20),
            "GB",
            new Dictionary<string, string> { ["next_opening"] = "Tuesday, 13:30" }
        );

    private static StepWords Words(string words, params string[] replies) => new("", words, replies, "");

    private static Step Step(StepKind kind, string words = "", int indent = 0) =>
        new(Guid.NewGuid(), indent, kind, words.Length > 0 ? [Words(words)] : []);

    private static Step Ask(AskKind kind, string field, string words = "What?", params string[] replies) =>
        Step(StepKind.Ask) with
        {
            Words = [Words(words, replies) with { Retry = "Once more?" }],
            Ask = new Question(kind, field, OwnWords: false, [], null, null),
        };

    private static Step If(string field, ConditionTest comparison, string value, int indent = 0) =>
        Step(StepKind.If, "", indent) with
        {
            If = new ScriptCondition(ConditionOn.Answer, field, comparison, value),
        };

    private static Script Of(params Step[] steps) => new(steps, 1, 30, [Words("Something went wrong here.")]);

    private static List<string> Said(ScriptResult result) =>
        [.. result.Outputs.Where(o => o.Kind is OutputKind.Say or OutputKind.Ask).Select(o => o.Text)];

    [Fact]
    public void It_asks_keeps_branches_and_hands_over()
    {
        var script = Of(
            Ask(AskKind.Number, "party", "How many are you?"),
            If("party", ConditionTest.MoreThan, "8"),
            Step(StepKind.Say, "For {{ party }} we open a second kiln day.", 1),
            Step(StepKind.Else),
            Step(StepKind.Say, "{{ party }} fit at the long table.", 1),
            Step(StepKind.HandOver),
            Step(StepKind.Say, "We write to you {{ next_opening }}.", 1),
            Step(StepKind.End, "Thank you.")
        );
        var few = ScriptTries.Play(script, ["seven, two of them are twelve"], Now());
        Assert.Equal(
            ["How many are you?", "7 fit at the long table.", "We write to you Tuesday, 13:30.", "Thank you."],
            Said(few)
        );
        var many = ScriptTries.Play(script, ["12"], Now("en", Member));
        Assert.Equal(["How many are you?", "For 12 we open a second kiln day."], Said(many));
        Assert.Equal(OutputKind.HandOver, many.Outputs[^1].Kind);
        // It is silent for good then.
        Assert.Empty(new ScriptMachine(script).Run(many.State, "hello?", Now("en", Member)).Outputs);
    }

    [Fact]
    public void It_hands_to_a_group_only_while_somebody_of_it_is_there()
    {
        var (workshops, orders) = (Guid.NewGuid(), Guid.NewGuid());
        var script = Of(
            Step(StepKind.HandOver, "Workshops takes over.") with
            {
                To = HandTo.Group,
                GroupId = workshops,
            },
            Step(StepKind.Say, "Nobody of Workshops is here.", 1)
        );
        // Somebody is here, and of another group: that is not whom they were promised.
        var others = Now("en", Member) with
        {
            GroupsHere = new HashSet<Guid> { orders },
        };
        Assert.Equal(["Nobody of Workshops is here."], Said(ScriptTries.Play(script, [], others)));
        var theirs = others with
        {
            GroupsHere = new HashSet<Guid> { orders, workshops },
        };
        var handed = ScriptTries.Play(script, [], theirs).Outputs[^1];
        Assert.Equal((OutputKind.HandOver, null, workshops), (handed.Kind, handed.Member, handed.Group));
    }

    [Fact]
    public void It_offers_a_channel_where_it_can_be_reached_and_else_tells_the_team_and_goes_on()
    {
        var offer = Step(StepKind.Offer, "Ring {{ next_opening }}") with
        {
            Offers = OfferOf.Channel,
            Offered = Guid.NewGuid(),
        };
        var script = Of(offer, Step(StepKind.Say, "Anything else?"));

        var there = ScriptTries.Play(
            script,
            [],
            Now() with
            {
                Offers = new Dictionary<Guid, string> { [offer.Id] = "tel:+44" },
            }
        );
        var gone = ScriptTries.Play(script, [], Now());

        Assert.Equal(
            (OutputKind.Offer, "Ring Tuesday, 13:30", "tel:+44"),
            (there.Outputs[0].Kind, there.Outputs[0].Text, there.Outputs[0].Address)
        );
        Assert.Equal(
            (OutputKind.NotOffered, "Step 1 offered nothing: its channel is not there any more, or closed now."),
            (gone.Outputs[0].Kind, gone.Outputs[0].Text)
        );
        Assert.Equal(["Anything else?"], Said(gone));
    }

    [Fact]
    public void What_makes_no_sense_is_asked_twice_more_then_left_empty()
    {
        var script = Of(Ask(AskKind.Number, "party", "How many?"), Step(StepKind.Say, "On we go."));
        var machine = new ScriptMachine(script);
        var result = machine.Run(ScriptState.Start, null, Now());
        foreach (var nonsense in new[] { "loads", "no idea" })
        {
            result = machine.Run(result.State, nonsense, Now());
            Assert.Equal(["Once more?"], Said(result));
        }
        result = machine.Run(result.State, "hm", Now());
        Assert.Equal(["On we go."], Said(result));
        Assert.Equal(new KeptAnswer("", "hm", IsUnderstood: false), result.State.Kept["party"]);
    }

    [Theory]
    [InlineData(AskKind.Number, "en", "seven, two of them are twelve", "7")]
    [InlineData(AskKind.Number, "en", "we are 7 or eight", "7")]
    [InlineData(AskKind.Number, "en", "seventeen", "17")]
    [InlineData(AskKind.Number, "en", "someone", null)]
    [InlineData(AskKind.Number, "de", "Wir sind zwölf.", "12")]
    [InlineData(AskKind.Number, "de", "1,5", "1.5")]
    [InlineData(AskKind.Number, "fr", "dix-sept", "17")]
    [InlineData(AskKind.Number, "nl", "zeven", "7")]
    [InlineData(AskKind.Number, "ja", "七人です", "7")]
    [InlineData(AskKind.Number, "ar", "نحن ٧", "7")]
    [InlineData(AskKind.Email, "en", "it is noor@reader.net.", "noor@reader.net")]
    [InlineData(AskKind.Email, "en", "noor at reader", null)]
    [InlineData(AskKind.Phone, "en", "0191 496 0182", "+441914960182")]
    [InlineData(AskKind.Phone, "en", "twelve", null)]
    [InlineData(AskKind.Date, "en", "2015-12-12", "2015-12-12")]
    [InlineData(AskKind.Date, "en-GB", "12/12/2015", "2015-12-12")]
    [InlineData(AskKind.Date, "en", "12 December", "2015-12-12")]
    [InlineData(AskKind.Date, "en", "5 January", "2016-01-05")]
    [InlineData(AskKind.Date, "de", "12. Dezember 2015", "2015-12-12")]
    [InlineData(AskKind.Date, "en", "soon", null)]
    [InlineData(AskKind.Text, "en", "  One of us is left-handed ", "One of us is left-handed")]
    [InlineData(AskKind.Text, "en", "\u200B", null)]
    public void Answers_are_understood_in_the_language_of_the_talk(
        AskKind kind,
        string language,
        string said,
        string? value
    )
    {
        var question = new Question(kind, "x", OwnWords: false, [], null, null);
        Assert.Equal(value, AnswerReader.Read(question, Words("?"), said, Now(language))?.Value);
    }

    [Theory]
    [InlineData("saturday", 0)]
    [InlineData("A SATURDAY!", 0)]
    [InlineData("2", 1)]
    [InlineData("cafe.", 2)]
    [InlineData("whenever", null)]
    [InlineData("4", null)]
    public void A_choice_is_a_reply_without_regard_to_case_accents_and_final_punctuation_or_its_number(
        string said,
        int? reply
    )
    {
        var replies = new[] { said.StartsWith('s') ? "Saturday" : "A Saturday", "An evening", "Café" };
        var question = new Question(AskKind.Choice, "x", OwnWords: false, [], null, null);
        Assert.Equal(reply, AnswerReader.Read(question, Words("?", replies), said, Now())?.Reply);
        Assert.Equal(
            reply is null ? said : replies[reply.Value],
            AnswerReader.Read(question with { OwnWords = true }, Words("?", replies), said, Now())?.Value
        );
    }

    [Fact]
    public void A_number_out_of_range_makes_no_sense()
    {
        var question = new Question(AskKind.Number, "x", OwnWords: false, [], 1, 40);
        Assert.Null(AnswerReader.Read(question, Words("?"), "41", Now()));
        Assert.Equal("40", AnswerReader.Read(question, Words("?"), "40", Now())?.Value);
    }

    [Fact]
    public void A_reply_leads_where_it_says_and_words_come_in_the_talks_language()
    {
        var end = Step(StepKind.End, "Bye");
        var ask = Ask(AskKind.Choice, "when", "When?", "Soon", "Never") with
        {
            Words =
            [
                new StepWords("", "When?", ["Soon", "Never"], ""),
                new StepWords("nl", "Wanneer?", ["Gauw", "Nooit"], ""),
            ],
            Ask = new Question(AskKind.Choice, "when", OwnWords: false, [null, end.Id], null, null),
        };
        var script = Of(ask, Step(StepKind.Say, "Lovely"), end);
        Assert.Equal(["Wanneer?", "Bye"], Said(ScriptTries.Play(script, ["nooit"], Now("nl-BE"))));
        Assert.Equal(["When?", "Lovely", "Bye"], Said(ScriptTries.Play(script, ["1"], Now())));
    }

    [Theory]
    [InlineData("a", "A")]
    [InlineData("b", "B")]
    [InlineData("c", "C")]
    public void Of_a_chain_one_branch_is_taken_and_it_goes_on_after_it(string said, string branch)
    {
        var elseIf = Step(StepKind.ElseIf) with
        {
            If = new ScriptCondition(ConditionOn.Answer, "x", ConditionTest.Is, "b"),
        };
        var script = Of(
            Ask(AskKind.Text, "x"),
            If("x", ConditionTest.Is, "a"),
            Step(StepKind.Say, "A", 1),
            elseIf,
            Step(StepKind.Say, "B", 1),
            Step(StepKind.Else),
            Step(StepKind.Say, "C", 1),
            Step(StepKind.Say, "after")
        );
        Assert.Equal(["What?", branch, "after"], Said(ScriptTries.Play(script, [said], Now())));
        Assert.Empty(ScriptCheck.Problems(script, "en", new HashSet<Guid>()));
    }

    [Fact]
    public void Going_round_for_ever_is_found_while_writing_and_ends_honestly_if_it_runs()
    {
        var say = Step(StepKind.Say, "Round");
        var script = Of(say, Step(StepKind.GoTo) with { Target = say.Id });
        Assert.Contains(
            ScriptCheck.Problems(script, "en", new HashSet<Guid>()),
            p => p is { Field: "steps[1]", Blocks: true }
        );
        var result = ScriptTries.Play(script, [], Now("en", Member));
        Assert.Equal("Something went wrong here.", Said(result)[^1]);
        Assert.Equal([OutputKind.Fault, OutputKind.HandOver], result.Outputs.TakeLast(2).Select(o => o.Kind));
        Assert.True(result.State.IsOver);
    }

    [Fact]
    public void Each_fault_is_found_at_its_line()
    {
        var gone = Guid.NewGuid();
        (Step[] Steps, string Field)[] faults =
        [
            ([Step(StepKind.Say)], "steps[0].words"),
            ([Step(StepKind.Else)], "steps[0]"),
            ([Step(StepKind.Say, "a"), Step(StepKind.Say, "b", 1)], "steps[1]"),
            ([Step(StepKind.End), Step(StepKind.Say, "never")], "steps[1]"),
            ([If("party", ConditionTest.Is, "1")], "steps[0].if.field"),
            ([Ask(AskKind.Text, "")], "steps[0].ask.field"),
            ([Ask(AskKind.Choice, "x")], "steps[0].words"),
            ([Ask(AskKind.Email, "mail")], "steps[0].ask"),
            ([Step(StepKind.Say, "Ines answers before Thursday.")], "steps[0].words"),
            ([Step(StepKind.GoTo) with { Target = gone }], "steps[0].target"),
            ([Step(StepKind.Offer, "Book") with { Value = "javascript:alert(1)" }], "steps[0].value"),
            ([Step(StepKind.Offer, "Ring us") with { Offers = OfferOf.Channel }], "steps[0].offered"),
            ([Step(StepKind.Keep) with { Value = "x" }], "steps[0].field"),
            ([Step(StepKind.HandOver) with { To = HandTo.Member }], "steps[0].memberId"),
            ([Step(StepKind.HandOver) with { To = HandTo.Group }], "steps[0].groupId"),
            ([Step(StepKind.Say, "{{ broken")], "steps[0].words"),
        ];
        foreach (var (steps, field) in faults)
            Assert.Contains(ScriptCheck.Problems(Of(steps), "en", new HashSet<Guid>()), p => p.Field == field);
        var bad = Ask(AskKind.Choice, "x", "When?", "Soon");
        bad = bad with { Ask = bad.Ask! with { Leads = [gone] } };
        Assert.Contains(
            ScriptCheck.Problems(Of(bad), "en", new HashSet<Guid>()),
            p => p is { Field: "steps[0].ask.leads[0]", Blocks: true }
        );
        var half = Step(StepKind.Say, "Hello") with { Words = [Words("Hello"), new StepWords("nl", "Hallo", [], "")] };
        Assert.Contains(
            ScriptCheck.Problems(Of(half, Step(StepKind.Say, "Bye")), "en", new HashSet<Guid>()),
            p => p is { Field: "steps[1].words", Word: "nl", Blocks: false }
        );
    }

    [Fact]
    public void A_kept_try_tells_at_which_step_it_goes_otherwise()
    {
        var ask = Ask(AskKind.Number, "party");
        var (table, kiln) = (Step(StepKind.Say, "table", 1), Step(StepKind.Say, "kiln", 1));
        Script Of8(string than) => Of(ask, If("party", ConditionTest.MoreThan, than), kiln, Step(StepKind.Else), table);
        var script = Of8("8");
        var at = new TryAs(
            "en",
            "/",
            true,
            true,
            [],
            false,
            new LocalDate(2015, 11, 20),
            "GB",
            new Dictionary<string, string>()
        );
        var kept = ScriptTries.Keep("Ten people", script, ["ten"], at, "en");
        Assert.Equal([ask.Id, script.Steps[1].Id, kiln.Id], kept.Passed);
        Assert.True(ScriptTries.Again(kept, script, "en").IsSame);
        var otherwise = Of([.. script.Steps.Select(s => s.If is { } c ? s with { If = c with { Value = "12" } } : s)]);
        var again = ScriptTries.Again(kept, otherwise, "en");
        Assert.Equal((2, 3, (Guid?)kiln.Id), (again.Held, again.Of, again.DiffersAt));
    }

    /// <summary>Random scripts and inputs: it never blocks, never loses an answer, names the step of every output, and the same in gives the same out.</summary>
    [Fact]
    public void Whatever_the_script_and_whatever_is_said_the_laws_hold()
    {
        for (var seed = 0; seed < 3_000; seed++)
        {
            var chance = new Random(seed);
            var script = RandomScript(chance);
            var machine = new ScriptMachine(script);
            var ids = script.Steps.Select(s => s.Id).ToHashSet();
            var now = Now("en", chance.Next(2) == 0 ? [Member] : []);
            var result = machine.Run(ScriptState.Start, null, now);
            var kept = new Dictionary<string, KeptAnswer>();
            for (var turn = 0; turn < 12; turn++)
            {
                Assert.True(result.Outputs.Count <= ScriptMachine.MostSteps + 3);
                Assert.All(
                    result.Outputs,
                    o => Assert.True(ids.Contains(o.Step) || (o.Kind == OutputKind.End && o.Step == Guid.Empty))
                );
                // It waits at a question, or it is over: nothing between.
                Assert.Equal(result.State.IsOver, result.State.Waits is null);
                // What was kept stays kept, unless it is asked again.
                foreach (var (field, answer) in kept)
                    Assert.True(result.State.Kept.ContainsKey(field), $"seed {seed} lost {field}, {answer.Said}");
                kept = result.State.Kept.ToDictionary(k => k.Key, k => k.Value);
                var said = new[] { "1", "two", "yes", "no idea", "", "a@b.example", "2015-12-12", "<b>" }[
                    chance.Next(8)
                ];
                var next = machine.Run(result.State, said, now);
                var again = new ScriptMachine(script).Run(result.State, said, now);
                Assert.Equal(next.State.Passed, again.State.Passed);
                Assert.Equal(
                    next.Outputs.Select(o => (o.Step, o.Kind, o.Text)),
                    again.Outputs.Select(o => (o.Step, o.Kind, o.Text))
                );
                Assert.Equal(next.State.Kept.AsEnumerable(), again.State.Kept.AsEnumerable());
                result = next;
            }
        }
    }

    private static Script RandomScript(Random chance)
    {
        var ids = Enumerable.Range(0, chance.Next(1, 14)).Select(_ => Guid.NewGuid()).ToList();
        var steps = new List<Step>();
        var indent = 0;
        foreach (var id in ids)
        {
            var kind = (StepKind)chance.Next(10);
            var takes =
                steps.Count > 0
                && steps[^1].Kind is StepKind.If or StepKind.ElseIf or StepKind.Else or StepKind.HandOver;
            indent = chance.Next(Math.Max(0, indent - 1), indent + (takes ? 2 : 1));
            var ask = Ask((AskKind)chance.Next(8), $"f{chance.Next(3)}", "?", "yes", "no");
            steps.Add(
                new Step(
                    id,
                    indent,
                    kind,
                    [Words("words {{ f1 }}", "yes", "no")],
                    kind == StepKind.Ask ? ask.Ask! with { Leads = [ids[chance.Next(ids.Count)], null] } : null,
                    kind is StepKind.If or StepKind.ElseIf
                        ? new ScriptCondition(
                            (ConditionOn)chance.Next(7),
                            $"f{chance.Next(3)}",
                            (ConditionTest)chance.Next(6),
                            new[] { "yes", "1", "/**", "en" }[chance.Next(4)]
                        )
                        : null,
                    Field: "f1",
                    Value: "kept",
                    To: (HandTo)chance.Next(4),
                    MemberId: Member,
                    Target: ids[chance.Next(ids.Count)]
                )
            );
        }
        return Of([.. steps]);
    }

    [Fact]
    public void A_thing_that_is_over_stays_over() =>
        Assert.Empty(
            new ScriptMachine(Of(Step(StepKind.Say, "x")))
                .Run(
                    new ScriptState(null, 0, ImmutableSortedDictionary<string, KeptAnswer>.Empty, true, []),
                    "hello",
                    Now()
                )
                .Outputs
        );
}
