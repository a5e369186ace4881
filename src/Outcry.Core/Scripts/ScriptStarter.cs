namespace Outcry.Core.Scripts;

/// <summary>What a script is begun for.</summary>
public enum ScriptPurpose
{
    /// <summary>From nothing: one question.</summary>
    Own,

    /// <summary>Sort buyers from lookers.</summary>
    Qualify,

    /// <summary>Book a time: a request with times to choose.</summary>
    Book,

    /// <summary>Answer what is asked often, by the words in it, and say so honestly where it does not know.</summary>
    Questions,

    /// <summary>Help with an order.</summary>
    Order,

    /// <summary>Take a complaint.</summary>
    Complaint,

    /// <summary>Take a message while nobody is there.</summary>
    AwayHours,
}

/// <summary>Scripts with first steps, good enough to change only where one is different.</summary>
public static class ScriptStarter
{
    /// <summary>Seconds before a line.</summary>
    public const decimal LineSeconds = 1;

    /// <summary>Minutes of silence after which it ends.</summary>
    public const int SilenceMinutes = 30;

    /// <summary>What a script begun for a purpose is called at first, so that several can be told apart.</summary>
    public static string NameFor(ScriptPurpose purpose) =>
        purpose switch
        {
            ScriptPurpose.Qualify => "Sort buyers from lookers",
            ScriptPurpose.Book => "Book a time",
            ScriptPurpose.Questions => "Answer what is asked often",
            ScriptPurpose.Order => "Help with an order",
            ScriptPurpose.Complaint => "Take a complaint",
            ScriptPurpose.AwayHours => "Cover closed hours",
            _ => "A new script",
        };

    /// <summary>A script for a purpose.</summary>
    public static Script For(ScriptPurpose purpose) =>
        new(
            [.. StepsFor(purpose)],
            LineSeconds,
            SilenceMinutes,
            [Words("Something went wrong on our side. Somebody will look at what you wrote.")]
        );

    private static IEnumerable<Step> StepsFor(ScriptPurpose purpose) =>
        purpose switch
        {
            ScriptPurpose.Qualify =>
            [
                Ask(AskKind.Choice, "looking_for", "What brings you here?", "Something to buy", "Only looking"),
                If("looking_for", "Something to buy"),
                Ask(AskKind.Text, "wanted", "What do you have in mind?") with
                {
                    Indent = 1,
                },
                .. HandedOver,
                Say("Have a good look round. We are here if something comes up."),
            ],
            ScriptPurpose.Book =>
            [
                Time("when", "When would suit you?"),
                Kept("when"),
                Ask(AskKind.Number, "party", "How many are you?") with
                {
                    Indent = 1,
                },
                .. Address.Select(s => s with { Indent = s.Indent + 1 }),
                Say("Thank you. {{ when }} is yours; the invitation comes by mail.") with
                {
                    Indent = 2,
                },
                new Step(Guid.CreateVersion7(), 1, StepKind.Else, []),
                Say("Thank you. Somebody looks at {{ when }} with you, here.") with
                {
                    Indent = 2,
                },
                .. HandedOver.Select(s => s with { Indent = 2 }),
                new Step(Guid.CreateVersion7(), 0, StepKind.Else, []),
                Say("Nothing is free just now. Somebody will suggest a time.") with
                {
                    Indent = 1,
                },
                .. HandedOver.Select(s => s with { Indent = 1 }),
                .. Address.Select(s => s with { Indent = s.Indent + 1 }),
            ],
            ScriptPurpose.Questions =>
            [
                Ask(AskKind.Text, "question", "What would you like to know?"),
                Has("question", "ship", StepKind.If),
                Say("We send on Tuesdays and Fridays; it takes two to four days.") with
                {
                    Indent = 1,
                },
                Has("question", "return", StepKind.ElseIf),
                Say("Whatever arrives broken, or is not what you hoped for, comes back to us within 30 days.") with
                {
                    Indent = 1,
                },
                new Step(Guid.CreateVersion7(), 0, StepKind.Else, []),
                Say("I do not know that one, and would rather not guess.") with
                {
                    Indent = 1,
                },
                .. HandedOver.Select(s => s with { Indent = 1 }),
                .. Address.Select(s => s with { Indent = s.Indent + 1 }),
            ],
            ScriptPurpose.Order =>
            [
                Ask(AskKind.Text, "order", "Which order is it? The number stands in the mail that confirmed it."),
                Ask(AskKind.Choice, "about", "What is it about?", "Where it is", "Change it", "Something is wrong"),
                .. HandedOver,
                .. Address,
                Say("Thank you. Somebody looks it up and writes to you."),
            ],
            ScriptPurpose.Complaint =>
            [
                Say("I am sorry that something is not right."),
                Ask(AskKind.Text, "what", "What happened?"),
                Ask(AskKind.Text, "order", "Which order was it?"),
                .. HandedOver,
                .. Address,
                Say("Thank you. Somebody looks into it and writes to you."),
            ],
            ScriptPurpose.AwayHours =>
            [
                Say("Nobody is here just now; we are back {{ next_opening | default: \"soon\" }}."),
                Ask(AskKind.Text, "question", "What would you like to know?"),
                .. Address,
                Say("Thank you. The answer comes to you."),
            ],
            _ => [Ask(AskKind.Text, "question", "What would you like to know?"), .. HandedOver, .. Address],
        };

    // To whoever is there; else it goes on below.
    private static Step[] HandedOver => [new Step(Guid.CreateVersion7(), 0, StepKind.HandOver, [])];

    private static Step[] Address =>
        [
            Ask(
                AskKind.Consent,
                "consent",
                "May we write to you about this? We keep your address for that and nothing else.",
                "Yes",
                "No"
            ),
            If("consent", "yes"),
            Ask(AskKind.Email, "e_mail", "Where may we write to?") with
            {
                Indent = 1,
            },
        ];

    private static StepWords Words(string words, params string[] replies) => new("", words, replies, "");

    private static Step Say(string words) => new(Guid.CreateVersion7(), 0, StepKind.Say, [Words(words)]);

    private static Step If(string field, string value) =>
        new(
            Guid.CreateVersion7(),
            0,
            StepKind.If,
            [],
            If: new ScriptCondition(ConditionOn.Answer, field, ConditionTest.Is, value)
        );

    private static Step Kept(string field) =>
        new(
            Guid.CreateVersion7(),
            0,
            StepKind.If,
            [],
            If: new ScriptCondition(ConditionOn.Answer, field, ConditionTest.IsKept, "")
        );

    private static Step Time(string field, string words) =>
        new(
            Guid.CreateVersion7(),
            0,
            StepKind.Ask,
            [Words(words)],
            new Question(
                AskKind.Time,
                field,
                OwnWords: false,
                [],
                null,
                null,
                TimeOffer.Start with
                {
                    Title = "A visit to the workshop",
                }
            )
        );

    private static Step Has(string field, string value, StepKind kind) =>
        new(
            Guid.CreateVersion7(),
            0,
            kind,
            [],
            If: new ScriptCondition(ConditionOn.Answer, field, ConditionTest.Contains, value)
        );

    private static Step Ask(AskKind kind, string field, string words, params string[] replies) =>
        new(
            Guid.CreateVersion7(),
            0,
            StepKind.Ask,
            [Words(words, replies)],
            new Question(kind, field, OwnWords: false, [], null, null)
        );
}
