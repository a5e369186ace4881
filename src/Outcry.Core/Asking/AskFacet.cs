using System.Text.Json.Serialization;
using Outcry.Core.Saying;

namespace Outcry.Core.Asking;

/// <summary>What a field of a prompt takes.</summary>
public enum FieldKind
{
    /// <summary>An e-mail address.</summary>
    Email,

    /// <summary>A phone number, kept as E.164.</summary>
    Phone,

    /// <summary>A first name.</summary>
    FirstName,

    /// <summary>A surname.</summary>
    Surname,

    /// <summary>One of several.</summary>
    Choice,

    /// <summary>Any of several.</summary>
    Choices,

    /// <summary>Own words, at most 1,000 characters.</summary>
    Text,

    /// <summary>A number.</summary>
    Number,

    /// <summary>A date (ISO 8601, as browsers give it).</summary>
    Date,

    /// <summary>A box beside words of its own, besides the promise; never ticked beforehand. Kept are the words that were ticked.</summary>
    Consent,
}

/// <summary>A field's words in one language.</summary>
/// <param name="Language">BCP 47 tag; empty for the site's own.</param>
/// <param name="Label">What it is called; empty for the built-in name of its kind.</param>
/// <param name="Choices">What can be chosen, in the same order in each language.</param>
public sealed record FieldWords(string Language, string Label, IReadOnlyList<string> Choices);

/// <summary>One field.</summary>
/// <param name="Id">Under which it is known while it is edited.</param>
/// <param name="Kind">What it takes.</param>
/// <param name="Key">Under which the answer is kept: small letters, digits and "_".</param>
/// <param name="Required">Whether nothing is sent without it.</param>
/// <param name="Words">Its words, the site's own language first.</param>
public sealed record PromptField(Guid Id, FieldKind Kind, string Key, bool Required, IReadOnlyList<FieldWords> Words);

/// <summary>Something kept with the answers that nobody is asked for.</summary>
/// <param name="Key">Under which it is kept.</param>
/// <param name="Value">A fixed value; empty where it comes from the page's address.</param>
/// <param name="Parameter">The address parameter it comes from; empty for a fixed value.</param>
public sealed record HiddenField(string Key, string Value, string Parameter)
{
    /// <summary>Whether the parameter is that of the page by which the visit came in; else of the page on which they say yes.</summary>
    public bool OfEntry { get; init; }
}

/// <summary>What is given for a yes.</summary>
public enum RewardKind
{
    /// <summary>Nothing but thanks.</summary>
    None,

    /// <summary>One code for all.</summary>
    Code,

    /// <summary>A code of one's own, out of a pool, each given once.</summary>
    Pool,

    /// <summary>A file, behind a signed link of 24 hours.</summary>
    File,
}

/// <summary>The reward.</summary>
/// <param name="Kind">What.</param>
/// <param name="Code">Of one code for all: the code.</param>
/// <param name="SourceId">Of a pool or a file: which.</param>
/// <param name="AwayWhenEmpty">Whether the prompt stays away once the pool is empty; else it says its thanks without a code.</param>
public sealed record Reward(RewardKind Kind, string Code, Guid? SourceId, bool AwayWhenEmpty)
{
    /// <summary>None.</summary>
    public static Reward Nothing { get; } = new(RewardKind.None, "", null, false);
}

/// <summary>A prompt's words in one language.</summary>
/// <param name="Language">BCP 47 tag; empty for the site's own.</param>
/// <param name="Button">On the button.</param>
/// <param name="Promise">What they agree to, word for word.</param>
/// <param name="SmallPrint">Under the button; empty for nothing.</param>
/// <param name="Thanks">In large after a yes.</param>
/// <param name="ThanksDetail">Under it; empty for nothing.</param>
/// <param name="Mail">In the mail that asks to confirm; empty for the built-in words.</param>
public sealed record AskWords(
    string Language,
    string Button,
    string Promise,
    string SmallPrint,
    string Thanks,
    string ThanksDetail,
    string Mail
)
{
    /// <summary>In large on the page behind the mail, once they have pressed its button; empty for the built-in words.</summary>
    public string Confirmed { get; init; } = "";
}

/// <summary>A part of a prompt's face that can stand above or below the others.</summary>
public enum FaceBlock
{
    /// <summary>The picture. Right above the message it stands beside it.</summary>
    Picture,

    /// <summary>The message and the line under it.</summary>
    Message,

    /// <summary>All that is asked for, in its own order.</summary>
    Fields,

    /// <summary>What they agree to, with its box where they tick one.</summary>
    Promise,

    /// <summary>The button that sends it.</summary>
    Button,

    /// <summary>The small print.</summary>
    SmallPrint,
}

/// <summary>What the face after a yes has otherwise than the one that asks.</summary>
/// <param name="Picture">Address of its picture; empty for none.</param>
/// <param name="Band">Colour of its band and button, #RRGGBB; empty for that of the face that asks.</param>
/// <param name="Ground">Colour of its ground, #RRGGBB; empty for that of the face that asks.</param>
public sealed record SecondFace(string Picture, string Band, string Ground)
{
    /// <summary>Nothing.</summary>
    public static SecondFace Same { get; } = new("", "", "");
}

/// <summary>What a prompt asks for, what is promised, and what happens after a yes.</summary>
/// <param name="Fields">In order.</param>
/// <param name="Hidden">What is kept besides.</param>
/// <param name="Words">Its words, the site's own language first.</param>
/// <param name="Ticks">Whether they agree by ticking a box, which is never ticked beforehand; else by the button under the promise.</param>
/// <param name="Confirms">Whether an address counts only once its owner has pressed a button in a mail.</param>
/// <param name="Reward">What is given.</param>
/// <param name="Tags">Marks that the lead gets.</param>
public sealed record AskFacet(
    IReadOnlyList<PromptField> Fields,
    IReadOnlyList<HiddenField> Hidden,
    IReadOnlyList<AskWords> Words,
    bool Ticks,
    bool Confirms,
    Reward Reward,
    IReadOnlyList<string> Tags
)
{
    /// <summary>The order of a face where nobody chose another.</summary>
    public static IReadOnlyList<FaceBlock> UsualBlocks { get; } = Enum.GetValues<FaceBlock>();

    /// <summary>The parts of its face from above to below; empty for the usual order.</summary>
    public IReadOnlyList<FaceBlock> Blocks { get; init; } = [];

    /// <summary>Where the press that confirms leads, on a host of the site: a path or an address; empty for the page with the thanks.</summary>
    public string Landing { get; init; } = "";

    /// <summary>What the face after a yes has otherwise.</summary>
    public SecondFace Second { get; init; } = SecondFace.Same;

    /// <summary>Each part of its face once, from above to below; those that nobody placed come last.</summary>
    [JsonIgnore]
    public IReadOnlyList<FaceBlock> Order => Blocks.Count == 0 ? UsualBlocks : [.. Blocks.Union(UsualBlocks)];

    /// <summary>Whether it asks for something by which a person can be written to.</summary>
    public bool TakesContact => Fields.Any(f => f.Kind is FieldKind.Email or FieldKind.Phone);

    /// <summary>The words in a language: those of it, of its main part, else the site's own.</summary>
    /// <param name="language">BCP 47 tag in which it is spoken.</param>
    /// <param name="own">BCP 47 tag of the site's own language.</param>
    public AskWords WordsIn(string language, string own) =>
        In(Words, w => w.Language, language, own) ?? new AskWords("", "", "", "", "", "", "");

    /// <summary>A field's words in a language.</summary>
    public static FieldWords WordsIn(PromptField field, string language, string own) =>
        In(field.Words, w => w.Language, language, own) ?? new FieldWords("", "", []);

    private static T? In<T>(IReadOnlyList<T> all, Func<T, string> of, string language, string own)
        where T : class
    {
        if (all.Count == 0)
            return null;
        var tags = all.Select(w => of(w).Length > 0 ? of(w) : own).ToList();
        var chosen = LanguageTag.Choose([language], tags);
        var at = chosen is null ? -1 : tags.FindIndex(t => t.Equals(chosen, StringComparison.OrdinalIgnoreCase));
        return at >= 0 ? all[at] : all.FirstOrDefault(w => of(w).Length == 0) ?? all[0];
    }
}
