namespace Outcry.Core.Asking;

/// <summary>What a new prompt asks for, calm enough to leave alone.</summary>
public static class AskStarter
{
    /// <summary>A phone number, agreed to by the button.</summary>
    public static AskFacet Number { get; } =
        new(
            [new PromptField(new Guid("0198a000-0000-7000-8000-0000000000a2"), FieldKind.Phone, "phone", true, [])],
            [],
            [new AskWords("", "Tell me", "", "", "Thank you", "", "")],
            Ticks: false,
            Confirms: false,
            Reward.Nothing,
            []
        );

    /// <summary>An e-mail address, with a box to tick, confirmed by mail.</summary>
    public static AskFacet Letters { get; } =
        new(
            [new PromptField(new Guid("0198a000-0000-7000-8000-0000000000a1"), FieldKind.Email, "email", true, [])],
            [],
            [new AskWords("", "Send me the letter", "", "", "Thank you", "", "")],
            Ticks: true,
            Confirms: true,
            Reward.Nothing,
            []
        );
}
