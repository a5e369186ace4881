using System.Collections.Concurrent;
using System.Runtime.CompilerServices;
using System.Text.Json;
using Outcry.Core.Asking;
using Outcry.Core.Briefs;
using Outcry.Core.Claims;
using Outcry.Core.Evidence;
using Outcry.Core.Planning;
using Outcry.Core.Publishing;
using Outcry.Core.Saying;
using Outcry.Core.Targeting;
using Outcry.Core.Timing;

namespace Outcry.Server.Visitor;

/// <summary>Writes armed callouts as the snippet reads them.</summary>
internal static class WriteCue
{
    // What hangs on an object that is let go with its snapshot is let go with it.
    private static readonly ConditionalWeakTable<Callout, ConcurrentDictionary<Manner, byte[]>> Heads = [];
    private static readonly ConditionalWeakTable<PreparedTurn, byte[]> Turns = [];

    /// <summary>The cue. On the stage a callout is there at once and stays, so that it can be looked at while it is being written.</summary>
    public static ReadyCue Of(ArmedCallout armed, bool onStage)
    {
        var first = armed.Turns[0];
        if (armed.Callout.Brief.Look.Shape == Shape.Crawl)
            // What a crawl turns over differs from visitor to visitor, and is part of its head.
            return new ReadyCue(
                Head(armed, MannerOf(armed, onStage)),
                [Turn(first, onStage ? null : armed.StaysMs[0])]
            );
        if (onStage)
            return new ReadyCue(Head(armed, MannerOf(armed, onStage)), [Turn(first, null)]);
        var stays = armed.StaysMs;
        var turns = new byte[armed.Turns.Count][];
        for (var i = 0; i < turns.Length; i++)
            turns[i] = stays[i] is null ? Turn(armed.Turns[i], null) : TurnOf(armed.Turns[i], stays[i]);
        return new ReadyCue(HeadOf(armed, MannerOf(armed, onStage)), turns);
    }

    /// <summary>Whether the snippet's first file cannot draw it all.</summary>
    public static bool NeedsShapes(ArmedCallout armed) =>
        armed.Callout.Brief.Look.Shape is not (Shape.Slip or Shape.Bubble)
        || armed.Callout.Brief.Ask is not null
        || armed.Callout.Brief.Say.Code.Length > 0
        || armed.Turns[0].Countdown is not null
        || armed.Triggers.Any(t => t.Kind is TriggerKind.VideoEnd or TriggerKind.InView)
        || armed.Turns.Any(t => t.Button.Length > 0 || t.Detail.Count > 0);

    private static Manner MannerOf(ArmedCallout armed, bool onStage) =>
        new(
            armed.Turns[0].Voice.Language,
            onStage,
            armed.Instead is not null && !onStage,
            onStage || ReferenceEquals(armed.Triggers, armed.Callout.Targeting.Triggers) ? null : armed.Triggers.Count,
            armed.OpensPanel
        );

    /// <summary>The built-in words that the cues need, by language.</summary>
    public static IReadOnlyDictionary<string, WordsPart> Words(IReadOnlyList<ArmedCallout> armed)
    {
        var words = new Dictionary<string, WordsPart>();
        foreach (var callout in armed)
            if (callout.Turns[0].Voice is var voice && !words.ContainsKey(voice.Language))
                words[voice.Language] = WordsOf.GetValue(voice, Say);
        return words;
    }

    private static readonly ConditionalWeakTable<Voice, WordsPart> WordsOf = [];

    private static WordsPart Say(Voice voice) =>
        new(
            BuiltInWords.Say(voice, BuiltInWord.Close),
            BuiltInWords.Say(voice, BuiltInWord.Why),
            BuiltInWords.Say(voice, BuiltInWord.WhyEvents),
            BuiltInWords.Say(voice, BuiltInWord.WhyNotice),
            BuiltInWords.Say(voice, BuiltInWord.Copy),
            BuiltInWords.Say(voice, BuiltInWord.Copied),
            BuiltInWords.Say(voice, BuiltInWord.Pause),
            BuiltInWords.Say(voice, BuiltInWord.Play),
            BuiltInWords.Say(voice, BuiltInWord.Days)
        );

    private static byte[] HeadOf(ArmedCallout armed, Manner manner)
    {
        var known = Heads.GetValue(armed.Callout, static _ => []);
        return known.TryGetValue(manner, out var head) ? head : known[manner] = Head(armed, manner);
    }

    // Everything up to where the turns begin.
    private static byte[] Head(ArmedCallout armed, Manner manner)
    {
        var written = JsonSerializer.SerializeToUtf8Bytes(Part(armed, manner), VisitorJson.Default.CuePart);
        return written[..^2];
    }

    private static CuePart Part(ArmedCallout armed, Manner manner)
    {
        var callout = armed.Callout;
        var (look, say, when) = (callout.Brief.Look, callout.Brief.Say, callout.Brief.When);
        return new CuePart(
            callout.Id,
            look.Shape,
            callout.Brief.Priority,
            manner.AtOnce || armed.Triggers.Count == 0
                ? null
                : [.. armed.Triggers.Select(t => new TriggerPart(t.Kind, NullIf(t.Number, 0), NullIf(t.Target, "")))],
            TrueOrNull(when.Join == Join.Any),
            when.TurnGapSeconds * 1000L,
            when.Rounds == 1 || look.Shape == Shape.Crawl ? null : when.Rounds,
            (long)callout.Targeting.Hush.TotalMilliseconds,
            TrueOrNull(manner.AskedOnly),
            TrueOrNull(callout.Brief.HowOften.Unit == RepeatUnit.PageView),
            TrueOrNull(when.OnlyIfAvailable && !manner.AtOnce),
            look.Side,
            TrueOrNull(look.Edge == Edge.Top),
            TrueOrNull(look.PhoneEdge == Edge.Top),
            look.Shape == Shape.Inset ? look.Anchor : null,
            look.Shape == Shape.Inset ? look.Inset : null,
            look.Band,
            Contrast.InkOn(look.Band),
            look.Ground,
            callout.Ink,
            FaceOf(look.Typeface),
            NullIf(look.CornerPx, BrandKit.UsualCornerPx),
            look.HasRoomBehind ? SafeLink.TryPassPicture(look.Backdrop) : null,
            look.CloseMark || callout.Class == CalloutClass.Dialog,
            TrueOrNull(say.NewTab),
            say.Picture != SayPicture.None,
            NullIf(say.Code, ""),
            manner.Language,
            TrueOrNull(LanguageTag.IsRightToLeft(manner.Language)),
            !callout.Brief.SaysItself,
            look.Shape == Shape.Crawl ? [.. armed.Turns.Select((t, i) => TurnPartOf(t, armed.LineStayMs(i)))] : null,
            TrueOrNull(manner.Opens),
            TrueOrNull(callout.Greets is { Sounds: true }),
            callout.Greets?.RepliesIn(manner.Language) is { Count: > 0 } replies ? replies : null,
            callout.Brief.Ask is { } ask ? AskOf(callout, ask, armed.Turns[0].Voice) : null,
            []
        );
    }

    private static AskPart AskOf(Callout callout, AskFacet ask, Voice voice)
    {
        var own = callout.Messages.Own.Voice.Language;
        var words = ask.WordsIn(voice.Language, own);
        return new AskPart(
            [
                .. ask.Fields.Select(f =>
                {
                    var says = AskFacet.WordsIn(f, voice.Language, own);
                    return new AskFieldPart(
                        f.Key,
                        f.Kind,
                        says.Label.Length > 0 ? says.Label : LabelOf(f.Kind, voice),
                        TrueOrNull(f.Required),
                        says.Choices.Count > 0 ? says.Choices : null
                    );
                }),
            ],
            words.Button,
            NullIf(ask.TakesContact ? words.Promise : "", ""),
            TrueOrNull(ask.Ticks),
            NullIf(words.SmallPrint, ""),
            words.Thanks,
            NullIf(words.ThanksDetail, ""),
            ask.Hidden.Where(h => !h.OfEntry).Select(h => h.Parameter).Where(p => p.Length > 0).ToList()
                is { Count: > 0 } takes
                ? takes
                : null,
            ask.Order.SequenceEqual(AskFacet.UsualBlocks) ? null : ask.Order,
            SecondOf(ask.Second, callout.Brief.Look),
            new Dictionary<string, string>
            {
                ["optional"] = BuiltInWords.Say(voice, BuiltInWord.Optional),
                ["notSent"] = BuiltInWords.Say(voice, BuiltInWord.NotSent),
                ["wrote"] = BuiltInWords.Say(voice, BuiltInWord.LookInMail),
                ["again"] = BuiltInWords.Say(voice, BuiltInWord.SendAgain),
                ["fillIn"] = BuiltInWords.Say(voice, BuiltInWord.FillIn),
                ["tick"] = BuiltInWords.Say(voice, BuiltInWord.TickBox),
                ["file"] = BuiltInWords.Say(voice, BuiltInWord.FetchFile),
                ["country"] = BuiltInWords.Say(voice, BuiltInWord.Country),
            }
        );
    }

    private static SecondFacePart? SecondOf(SecondFace second, LookFacet look)
    {
        if (second == SecondFace.Same)
            return null;
        var (band, ground) = (
            second.Band.Length > 0 ? second.Band : look.Band,
            second.Ground.Length > 0 ? second.Ground : look.Ground
        );
        return new SecondFacePart(
            SafeLink.TryPassPicture(second.Picture),
            band,
            Contrast.InkOn(band),
            ground,
            Contrast.InkOn(ground)
        );
    }

    private static string LabelOf(FieldKind kind, Voice voice) =>
        kind switch
        {
            FieldKind.Email => BuiltInWords.Say(voice, BuiltInWord.FieldEmail),
            FieldKind.Phone => BuiltInWords.Say(voice, BuiltInWord.FieldPhone),
            FieldKind.FirstName => BuiltInWords.Say(voice, BuiltInWord.FirstName),
            FieldKind.Surname => BuiltInWords.Say(voice, BuiltInWord.Surname),
            _ => "",
        };

    private static byte[] TurnOf(PreparedTurn turn, long? stayMs) =>
        Turns.TryGetValue(turn, out var written) ? written : Turns.GetValue(turn, t => Turn(t, stayMs));

    private static byte[] Turn(PreparedTurn turn, long? stayMs) =>
        JsonSerializer.SerializeToUtf8Bytes(TurnPartOf(turn, stayMs), VisitorJson.Default.TurnPart);

    private static TurnPart TurnPartOf(PreparedTurn turn, long? stayMs) =>
        new(
            Spans(turn.Spans),
            turn.Detail.Count == 0 ? null : Spans(turn.Detail),
            NullIf(turn.Button, ""),
            NullIf(turn.Meta, ""),
            turn.Picture,
            NullIf(turn.Initials, ""),
            turn.Link,
            stayMs,
            turn.Countdown,
            turn.CountdownTo?.ToUnixTimeMilliseconds()
        );

    public static List<SpanPart> Spans(IReadOnlyList<Span> spans) =>
        [
            .. spans.Select(s => new SpanPart(
                s.Text,
                TrueOrNull(s.Bold),
                TrueOrNull(s.Italic),
                TrueOrNull(s.Underlined),
                s.Link
            )),
        ];

    /// <summary>The letters, where they are not the page's own.</summary>
    public static string? FaceOf(Typeface face) => face == Typeface.Page ? null : face.ToString();

    private static bool? TrueOrNull(bool value) => value ? true : null;

    private static string? NullIf(string value, string none) => value == none ? null : value;

    private static int? NullIf(int value, int none) => value == none ? null : value;

    /// <summary>What of a callout's cue differs from visitor to visitor, beside its turns.</summary>
    private readonly record struct Manner(string Language, bool AtOnce, bool AskedOnly, int? TriggersLeft, bool Opens);
}
