using System.Globalization;
using System.Runtime.CompilerServices;
using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Greetings;
using Outcry.Core.Pages;
using Outcry.Core.Publishing;
using Outcry.Core.Saying;
using Outcry.Core.Visitors;
using Outcry.Server.Sites;

namespace Outcry.Server.Visitor;

/// <summary>For whom and where a launcher is written.</summary>
/// <param name="Site">The site.</param>
/// <param name="Page">The page.</param>
/// <param name="Facts">Who reads, as far as it is known.</param>
/// <param name="Names">Names of those of the team who are there.</param>
/// <param name="Team">Who is, or is taken to be.</param>
/// <param name="Now">When.</param>
internal sealed record LauncherReader(
    LiveSite Site,
    PageAddress Page,
    VisitorFacts Facts,
    IReadOnlyList<string> Names,
    TeamThere Team,
    Instant Now
);

/// <summary>Writes the launcher that stands on a page as the snippet reads it.</summary>
internal static class WriteLauncher
{
    public static LauncherPart Of(Launcher launcher, LauncherReader reader, FilePaths files)
    {
        var available = launcher.At(reader.Now, reader.Team);
        var (language, words, greeting) = launcher.For(reader.Facts.Languages, available.IsOpen);
        var voice = Voice.Of(language, reader.Facts.Languages, reader.Site.Context.WordsOf(language));
        var (brief, look) = (launcher.Brief, launcher.Brief.Look);
        var button = available.IsOpen || words.ClosedButton.Length == 0 ? words.Button : words.ClosedButton;
        return new LauncherPart(
            files.Launch,
            files.Panel,
            launcher.Id,
            language,
            LanguageTag.IsRightToLeft(language) ? true : null,
            button,
            words.Title.Length > 0 ? words.Title : words.Button,
            new LauncherLookPart(
                look.Sign,
                look.Sign == ButtonSign.Picture ? look.PictureAddress : null,
                look.ShowsWords,
                look.Side,
                look.EdgePx,
                look.SidePx,
                look.PhoneSide,
                look.PhoneEdgePx,
                look.Size,
                look.Band,
                Contrast.InkOn(look.Band),
                look.Ground,
                launcher.Ink,
                look.Dot,
                WriteCue.FaceOf(look.Typeface),
                look.CornerPx == BrandKit.UsualCornerPx ? null : look.CornerPx
            ),
            available.IsOpen,
            StandingWords(brief, available, voice, reader),
            brief.Closed.SaysNext ? available.OpensAt?.ToUnixTimeMilliseconds() : null,
            SpeakerOf(brief, available.IsOpen, reader),
            WriteCue.Spans(greeting.Render(new TokenValues(), voice)),
            words.Thanks.Length > 0 ? words.Thanks : BuiltInWords.Say(voice, BuiltInWord.Sent),
            [
                .. launcher
                    .ChannelsAt(reader.Now, available.IsOpen, reader.Facts.Device)
                    .Select(c => ChannelOf(launcher, c, language, voice, reader)),
            ],
            brief.Fragment.Length > 0 ? brief.Fragment : null,
            brief.Direct,
            WordsOf.GetValue(voice, Say),
            brief.Channels.Any(c => c.Kind == ChannelKind.Chat)
                ? new TalkOfferPart(
                    files.Talk,
                    TalkWordsOf.GetValue(voice, SayOfTalks),
                    available.IsOpen ? reader.Site.UsualAnswerMinutes : null
                )
                : null
        );
    }

    private static readonly ConditionalWeakTable<Voice, IReadOnlyDictionary<string, string>> TalkWordsOf = [];

    private static Dictionary<string, string> SayOfTalks(Voice voice) =>
        new()
        {
            ["write"] = BuiltInWords.Say(voice, BuiltInWord.TalkWrite),
            ["you"] = BuiltInWords.Say(voice, BuiltInWord.TalkYou),
            ["seen"] = BuiltInWords.Say(voice, BuiltInWord.TalkSeen),
            ["waits"] = BuiltInWords.Say(voice, BuiltInWord.TalkWaits),
            ["types"] = BuiltInWords.Say(voice, BuiltInWord.TalkTypes),
            ["new"] = BuiltInWords.Say(voice, BuiltInWord.TalkNew),
            ["end"] = BuiltInWords.Say(voice, BuiltInWord.TalkEnd),
            ["ended"] = BuiltInWords.Say(voice, BuiltInWord.TalkEnded),
            ["leave"] = BuiltInWords.Say(voice, BuiltInWord.TalkLeave),
            ["left"] = BuiltInWords.Say(voice, BuiltInWord.TalkLeft),
            ["transcript"] = BuiltInWords.Say(voice, BuiltInWord.TalkTranscript),
            ["offline"] = BuiltInWords.Say(voice, BuiltInWord.TalkOffline),
            ["taken"] = BuiltInWords.Say(voice, BuiltInWord.TalkTaken),
            ["person"] = BuiltInWords.Say(voice, BuiltInWord.TalkPerson),
            ["file"] = BuiltInWords.Say(voice, BuiltInWord.TalkFile),
            ["fileLimits"] = BuiltInWords.Say(voice, BuiltInWord.TalkFileLimits),
            ["fileFailed"] = BuiltInWords.Say(voice, BuiltInWord.TalkFileFailed),
            ["usual"] = BuiltInWords.Say(voice, BuiltInWord.TalkUsual),
            ["agree"] = BuiltInWords.Say(voice, BuiltInWord.TalkAgree),
        };

    private static string StandingWords(LauncherBrief brief, Availability available, Voice voice, LauncherReader reader)
    {
        if (!available.IsOpen)
            return BuiltInWords.Say(voice, BuiltInWord.ClosedNow);
        if (!brief.Speaker.Members || reader.Names.Count == 0)
            return BuiltInWords.Say(voice, BuiltInWord.HereNow);
        var joined = string.Join(Comma(voice.Language), reader.Names.Select(FirstName).Take(MostNames));
        return BuiltInWords.Say(voice, BuiltInWord.NamesHereNow, joined);
    }

    private const int MostNames = 3;

    private static string Comma(string language) =>
        LanguageTag.Main(language) switch
        {
            "ja" => "、",
            "ar" => "، ",
            _ => ", ",
        };

    // Visitors read a first name and no more.
    private static string FirstName(string name) => name.Split(' ', 2)[0];

    private static SpeakerPart? SpeakerOf(LauncherBrief brief, bool isOpen, LauncherReader reader) =>
        brief.Speaker switch
        {
            { Members: true } => isOpen && reader.Names.Count > 0
                ? new SpeakerPart("", null, null, [.. reader.Names.Take(MostNames).Select(Initials)])
                : null,
            { Name.Length: > 0 } one => new SpeakerPart(
                one.Name,
                one.Role.Length > 0 ? one.Role : null,
                one.Portrait.Length > 0 ? one.Portrait : null,
                [Initials(one.Name)]
            ),
            _ => null,
        };

    private static string Initials(string name) =>
        string.Concat(
            name.Split(' ', StringSplitOptions.RemoveEmptyEntries)
                .Take(2)
                .Select(w => StringInfo.GetNextTextElement(w).ToUpperInvariant())
        );

    private static ChannelPart ChannelOf(
        Launcher launcher,
        Channel channel,
        string language,
        Voice voice,
        LauncherReader reader
    )
    {
        var (label, prefill) = channel.In(language);
        var (href, app) = ChannelAddress.Open(
            channel,
            reader.Site.Region,
            Prefill.Say(prefill, $"https://{reader.Page}", reader.Site.Name)
        );
        return new ChannelPart(
            channel.Id,
            channel.Kind,
            label.Length > 0 ? label : BuiltInWords.Say(voice, LabelOf(channel.Kind)),
            href.Length > 0 ? href : null,
            app.Length > 0 ? app : null,
            channel.NewWindow || channel.Kind == ChannelKind.Messenger ? true : null,
            channel.IsWritten ? [.. channel.Asked.Select(f => new AskedPart(f.Field, f.Needed ? true : null))] : null,
            launcher.OfferedUntil(channel, reader.Now)?.ToUnixTimeMilliseconds()
        );
    }

    private static BuiltInWord LabelOf(ChannelKind kind) =>
        kind switch
        {
            ChannelKind.Chat => BuiltInWord.ChannelChat,
            ChannelKind.Form => BuiltInWord.ChannelForm,
            ChannelKind.Phone => BuiltInWord.ChannelPhone,
            ChannelKind.Text => BuiltInWord.ChannelText,
            ChannelKind.Email => BuiltInWord.ChannelEmail,
            ChannelKind.Messenger => BuiltInWord.ChannelMessenger,
            _ => BuiltInWord.ChannelLink,
        };

    private static readonly ConditionalWeakTable<Voice, LauncherWordsPart> WordsOf = [];

    private static LauncherWordsPart Say(Voice voice)
    {
        string Word(BuiltInWord word) => BuiltInWords.Say(voice, word);
        return new LauncherWordsPart(
            Word(BuiltInWord.Close),
            Word(BuiltInWord.Back),
            Word(BuiltInWord.OpensNext),
            Word(BuiltInWord.Until),
            Word(BuiltInWord.Send),
            Word(BuiltInWord.NotSent),
            Word(BuiltInWord.FillIn),
            Word(BuiltInWord.CheckEmail),
            Word(BuiltInWord.CheckPhone),
            new Dictionary<string, string>
            {
                ["Name"] = Word(BuiltInWord.FieldName),
                ["Email"] = Word(BuiltInWord.FieldEmail),
                ["Phone"] = Word(BuiltInWord.FieldPhone),
                ["Message"] = Word(BuiltInWord.FieldMessage),
            }
        );
    }
}
