namespace Outcry.Core.Scripts;

/// <summary>What a step does.</summary>
public enum StepKind
{
    /// <summary>Says something.</summary>
    Say,

    /// <summary>Asks something and keeps the answer.</summary>
    Ask,

    /// <summary>Goes on with the steps under it where a condition holds.</summary>
    If,

    /// <summary>The same, where nothing before it in the chain held.</summary>
    ElseIf,

    /// <summary>Goes on with the steps under it where nothing before it in the chain held.</summary>
    Else,

    /// <summary>Keeps a value in a field.</summary>
    Keep,

    /// <summary>Hands the talk to a person; where nobody can take it, goes on with the steps under it.</summary>
    HandOver,

    /// <summary>Offers something to press: an address, or another channel.</summary>
    Offer,

    /// <summary>Goes on at another step.</summary>
    GoTo,

    /// <summary>Ends the script.</summary>
    End,
}

/// <summary>What a question asks for.</summary>
public enum AskKind
{
    /// <summary>One of its replies.</summary>
    Choice,

    /// <summary>Own words, 1 to 1,000 characters.</summary>
    Text,

    /// <summary>A number.</summary>
    Number,

    /// <summary>An e-mail address.</summary>
    Email,

    /// <summary>A phone number, kept as E.164.</summary>
    Phone,

    /// <summary>A date.</summary>
    Date,

    /// <summary>A yes to being written to: the first reply is yes.</summary>
    Consent,

    /// <summary>A time that is free, of those offered.</summary>
    Time,
}

/// <summary>A step's words in one language.</summary>
/// <param name="Language">BCP 47 tag; empty for the site's own.</param>
/// <param name="Words">What is said or asked; Liquid with kept answers. Of an offer the link's words.</param>
/// <param name="Replies">Ready replies, in the same order in each language.</param>
/// <param name="Retry">Said when an answer makes no sense; empty for the question once more.</param>
public sealed record StepWords(string Language, string Words, IReadOnlyList<string> Replies, string Retry);

/// <summary>A question's other sides.</summary>
/// <param name="Kind">What it asks for.</param>
/// <param name="Field">Under which name the answer is kept; empty for nowhere.</param>
/// <param name="OwnWords">Of a choice: whether own words are taken as they are.</param>
/// <param name="Leads">Where each reply leads, by step; null, or fewer than there are replies, for the next step.</param>
/// <param name="Least">Of a number: the least; null for none.</param>
/// <param name="Most">Of a number: the most; null for none.</param>
/// <param name="Times">Of a time: which are offered.</param>
public sealed record Question(
    AskKind Kind,
    string Field,
    bool OwnWords,
    IReadOnlyList<Guid?> Leads,
    decimal? Least,
    decimal? Most,
    TimeOffer? Times = null
);

/// <summary>What a condition is about.</summary>
public enum ConditionOn
{
    /// <summary>A kept answer, by its field.</summary>
    Answer,

    /// <summary>Whether the launcher is open: "yes" or "no".</summary>
    Open,

    /// <summary>Whether somebody could take the talk now: "yes" or "no".</summary>
    SomebodyHere,

    /// <summary>The talk's language, by its main part: "nl".</summary>
    Language,

    /// <summary>The page's path, as a pattern.</summary>
    Page,

    /// <summary>A segment that the visitor is in, by id.</summary>
    Segment,

    /// <summary>Whether the site knows who it is: "yes" or "no".</summary>
    Known,
}

/// <summary>How it is compared.</summary>
public enum ConditionTest
{
    /// <summary>Is it, without regard to case.</summary>
    Is,

    /// <summary>Is anything else.</summary>
    IsNot,

    /// <summary>A number above it.</summary>
    MoreThan,

    /// <summary>A number below it.</summary>
    LessThan,

    /// <summary>Has it somewhere.</summary>
    Contains,

    /// <summary>Is kept and understood.</summary>
    IsKept,
}

/// <summary>When the steps under it are taken.</summary>
/// <param name="On">What it is about.</param>
/// <param name="Field">Of an answer: its field.</param>
/// <param name="Comparison">How.</param>
/// <param name="Value">With what.</param>
public sealed record ScriptCondition(ConditionOn On, string Field, ConditionTest Comparison, string Value);

/// <summary>To whom a talk is handed.</summary>
public enum HandTo
{
    /// <summary>Anybody who is there: it stands unclaimed.</summary>
    WhoeverIsHere,

    /// <summary>One member, if they are there.</summary>
    Member,

    /// <summary>Of those who are there whoever has the fewest open talks.</summary>
    FewestTalks,

    /// <summary>A group, if somebody of it is there: it stands unclaimed, for them.</summary>
    Group,
}

/// <summary>What an offer leads to.</summary>
public enum OfferOf
{
    /// <summary>An address: a page, or a product's.</summary>
    Address,

    /// <summary>A channel of one of the site's launchers that leads elsewhere: a number, an e-mail address, a messaging app, a page.</summary>
    Channel,

    /// <summary>A live prompt of the site: its form opens on the page in place of the panel.</summary>
    Prompt,
}

/// <summary>Where an offer leads when that is no address on the web.</summary>
public static class OfferAddress
{
    /// <summary>A prompt, which the talk opens on the page itself.</summary>
    public static string OfPrompt(Guid prompt) => $"prompt:{prompt}";
}

/// <summary>One step of a script.</summary>
/// <param name="Id">Under which it is reached, counted and named by others.</param>
/// <param name="Indent">How deep it stands: 0 to 8.</param>
/// <param name="Kind">What it does.</param>
/// <param name="Words">Its words, the site's own language first.</param>
/// <param name="Ask">Of a question.</param>
/// <param name="If">Of a condition.</param>
/// <param name="Field">Of Keep: the field.</param>
/// <param name="Value">Of Keep: the value, Liquid. Of Offer: the address.</param>
/// <param name="To">Of HandOver.</param>
/// <param name="MemberId">Of HandOver to a member: whom.</param>
/// <param name="Target">Of GoTo: the step.</param>
/// <param name="GroupId">Of HandOver to a group: which.</param>
/// <param name="Offers">Of Offer: what it leads to.</param>
/// <param name="Offered">Of Offer of a channel or a prompt: which.</param>
public sealed record Step(
    Guid Id,
    int Indent,
    StepKind Kind,
    IReadOnlyList<StepWords> Words,
    Question? Ask = null,
    ScriptCondition? If = null,
    string Field = "",
    string Value = "",
    HandTo To = HandTo.WhoeverIsHere,
    Guid? MemberId = null,
    Guid? Target = null,
    Guid? GroupId = null,
    OfferOf Offers = OfferOf.Address,
    Guid? Offered = null
);

/// <summary>A script, as its author edits it and revisions freeze it.</summary>
/// <param name="Steps">Its steps in order; what stands deeper belongs to what it stands under.</param>
/// <param name="LineSeconds">Seconds before each line, 0 to 4.</param>
/// <param name="SilenceMinutes">Minutes without a word after which it ends, 1 to 1,440.</param>
/// <param name="Fault">Said when something goes wrong, the site's own language first.</param>
public sealed record Script(
    IReadOnlyList<Step> Steps,
    decimal LineSeconds,
    int SilenceMinutes,
    IReadOnlyList<StepWords> Fault
)
{
    /// <summary>Tries that are run before it is published: it goes as it went, or its author says otherwise.</summary>
    public IReadOnlyList<ScriptTry> Tries { get; init; } = [];
}
