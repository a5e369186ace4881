using System.Text.Json;

namespace Outcry.Core.Saying;

/// <summary>The words that visitors read without a marketer having written them.</summary>
public enum BuiltInWord
{
    /// <summary>Names the close mark for screen readers.</summary>
    Close,

    /// <summary>Asks why one sees this.</summary>
    Why,

    /// <summary>Answers that for what is drawn from events.</summary>
    WhyEvents,

    /// <summary>Answers that for a notice.</summary>
    WhyNotice,

    /// <summary>On the button beside a code.</summary>
    Copy,

    /// <summary>After it was pressed.</summary>
    Copied,

    /// <summary>On a button without words of its own.</summary>
    More,

    /// <summary>Stops what turns over by itself.</summary>
    Pause,

    /// <summary>Lets it go on.</summary>
    Play,

    /// <summary>Days before the hours of a countdown; {0} is the number.</summary>
    Days,

    /// <summary>Under a minute ago.</summary>
    JustNow,

    /// <summary>Under a day ago, with the pace hidden.</summary>
    LastDay,

    /// <summary>Under a week ago, with the pace hidden.</summary>
    LastWeek,

    /// <summary>Longer ago, with the pace hidden.</summary>
    Recently,

    /// <summary>Stands for a person who is not named.</summary>
    Someone,

    /// <summary>A place with its preposition; {0} is the place.</summary>
    From,

    /// <summary>Stands for a number that is hidden.</summary>
    Many,

    /// <summary>Says that the team is there.</summary>
    HereNow,

    /// <summary>Says who of the team is there; {0} are their names.</summary>
    NamesHereNow,

    /// <summary>Says that the team is not there.</summary>
    ClosedNow,

    /// <summary>Says when the team is there again; {0} is the time: "tomorrow, 9:00".</summary>
    OpensNext,

    /// <summary>Until when a channel is offered; {0} is the time.</summary>
    Until,

    /// <summary>Names a channel: a message on the page.</summary>
    ChannelChat,

    /// <summary>Names a channel: a form.</summary>
    ChannelForm,

    /// <summary>Names a channel: a call.</summary>
    ChannelPhone,

    /// <summary>Names a channel: a text message.</summary>
    ChannelText,

    /// <summary>Names a channel: an e-mail.</summary>
    ChannelEmail,

    /// <summary>Names a channel: a messaging app.</summary>
    ChannelMessenger,

    /// <summary>Names a channel: an address.</summary>
    ChannelLink,

    /// <summary>Names a field of a form.</summary>
    FieldName,

    /// <summary>Names a field of a form.</summary>
    FieldEmail,

    /// <summary>Names a field of a form.</summary>
    FieldPhone,

    /// <summary>Names a field of a form.</summary>
    FieldMessage,

    /// <summary>On the button that sends a form.</summary>
    Send,

    /// <summary>After a message was sent.</summary>
    Sent,

    /// <summary>Where it could not be sent.</summary>
    NotSent,

    /// <summary>Asks for a field that is needed.</summary>
    FillIn,

    /// <summary>Where an e-mail address is none.</summary>
    CheckEmail,

    /// <summary>Where a phone number is none.</summary>
    CheckPhone,

    /// <summary>Leads back within a panel.</summary>
    Back,

    /// <summary>What the field for a message asks for.</summary>
    TalkWrite,

    /// <summary>Names the visitor's own messages for screen readers.</summary>
    TalkYou,

    /// <summary>Under the last message that the team has seen.</summary>
    TalkSeen,

    /// <summary>Under a message that is not sent yet.</summary>
    TalkWaits,

    /// <summary>Somebody is writing; {0} is who.</summary>
    TalkTypes,

    /// <summary>Before the page's title: {0} is how many messages are new.</summary>
    TalkNew,

    /// <summary>Ends a talk.</summary>
    TalkEnd,

    /// <summary>A talk has ended.</summary>
    TalkEnded,

    /// <summary>Asks for an address to answer to.</summary>
    TalkLeave,

    /// <summary>An address was left; {0} is it.</summary>
    TalkLeft,

    /// <summary>Asks for a transcript by mail.</summary>
    TalkTranscript,

    /// <summary>There is no connection.</summary>
    TalkOffline,

    /// <summary>A first message has come in while nobody is there.</summary>
    TalkTaken,

    /// <summary>Subject of a mail; {0} is who answered.</summary>
    MailAnswered,

    /// <summary>Leads back to a talk; {0} is the address.</summary>
    MailGoOn,

    /// <summary>A mail that nobody reads the answers to.</summary>
    MailNoReply,

    /// <summary>In a mail with an invitation to a time that was chosen.</summary>
    MailInvitation,

    /// <summary>Subject of a mail that calls such a time off, with what it was.</summary>
    MailCalledOff,

    /// <summary>On the button that keeps an address, with consent.</summary>
    TalkAgree,

    /// <summary>Asks for a person in place of a script.</summary>
    TalkPerson,

    /// <summary>On the button that sends a file.</summary>
    TalkFile,

    /// <summary>Which files are taken.</summary>
    TalkFileLimits,

    /// <summary>A file could not be sent.</summary>
    TalkFileFailed,

    /// <summary>How soon people usually answer; {0} is a length of time.</summary>
    TalkUsual,

    /// <summary>Nobody has answered for a while, though it is open.</summary>
    TalkNobody,

    /// <summary>Where an answer is too long.</summary>
    TooLong,

    /// <summary>Where a box has to be ticked.</summary>
    TickBox,

    /// <summary>Where a date is none.</summary>
    CheckDate,

    /// <summary>Names the field for a first name.</summary>
    FirstName,

    /// <summary>Names the field for a surname.</summary>
    Surname,

    /// <summary>Beside a field that may be left empty.</summary>
    Optional,

    /// <summary>Names the list of countries beside a phone number.</summary>
    Country,

    /// <summary>After a yes that is to be confirmed; {0} is the address.</summary>
    LookInMail,

    /// <summary>Sends the mail that asks to confirm once more.</summary>
    SendAgain,

    /// <summary>Subject of the mail that asks to confirm.</summary>
    MailConfirm,

    /// <summary>In that mail; {0} is the site.</summary>
    MailConfirmText,

    /// <summary>On the button of that mail and of the page behind it.</summary>
    MailConfirmButton,

    /// <summary>In that mail, for whoever was not asked.</summary>
    MailNotYou,

    /// <summary>Above the button of the page behind the mail.</summary>
    ConfirmTitle,

    /// <summary>After the press.</summary>
    ConfirmDone,

    /// <summary>Subject of the mail that brings what was promised.</summary>
    MailYours,

    /// <summary>In every mail that was agreed to; {0} is the address that takes it back.</summary>
    MailLeave,

    /// <summary>In every text message of a follow-up; {0} is the address that takes it back.</summary>
    TextLeave,

    /// <summary>Above the button that takes it back.</summary>
    LeaveTitle,

    /// <summary>On that button.</summary>
    LeaveButton,

    /// <summary>After it.</summary>
    LeaveDone,

    /// <summary>Behind a link that has run out.</summary>
    LinkGone,

    /// <summary>Leads to a file that was promised.</summary>
    FetchFile,

    /// <summary>Beside an address that may be a slip, before the one that may be meant, which is a button.</summary>
    DidYouMean,
}

/// <summary>The built-in words in the languages they are shipped in, each replaceable by a site.</summary>
public static class BuiltInWords
{
    private static readonly IReadOnlyDictionary<string, IReadOnlyDictionary<string, JsonElement>> Shipped =
        LanguageData.Read<IReadOnlyDictionary<string, IReadOnlyDictionary<string, JsonElement>>>("built-in-words.json");

    /// <summary>Main languages in which the words are shipped.</summary>
    public static IReadOnlyCollection<string> Languages => [.. Shipped.Keys];

    /// <summary>The main language when it is shipped, else English.</summary>
    public static string SpokenOrEnglish(string language) =>
        LanguageTag.Main(language) is var main && Shipped.ContainsKey(main) ? main : "en";

    /// <summary>A word in the language of the voice: the site's own, else the shipped one, else English.</summary>
    public static string Say(Voice voice, BuiltInWord word)
    {
        var key = Key(word);
        if (voice.Own?.GetValueOrDefault(key) is { Length: > 0 } own)
            return own;
        return Shipped[SpokenOrEnglish(voice.Language)][key].GetString()!;
    }

    /// <summary>A word with {0} filled.</summary>
    public static string Say(Voice voice, BuiltInWord word, string value) =>
        Say(voice, word).Replace("{0}", value, StringComparison.Ordinal);

    /// <summary>The key under which a site replaces a word.</summary>
    public static string Key(BuiltInWord word) => JsonNamingPolicy.CamelCase.ConvertName(word.ToString());

    /// <summary>"in the last 16 hours".</summary>
    internal static string SaySpan(Voice voice, string unit, long number)
    {
        var spoken = SpokenOrEnglish(voice.Language);
        var forms = Shipped[spoken]["span"].GetProperty(unit);
        var plural = PluralRule.For(spoken, number).ToString().ToLowerInvariant();
        // "1" is the one minute, which most languages say without a number; after it the language's own classes.
        var form =
            number == 1 && forms.TryGetProperty("1", out var single) ? single
            : forms.TryGetProperty(plural, out var own) ? own
            : forms.GetProperty("other");
        return form.GetString()!.Replace("{0}", Figures.Number(number, voice.Culture), StringComparison.Ordinal);
    }
}
