using Outcry.Core.Briefs;
using Outcry.Core.Pages;
using Outcry.Core.Publishing;
using Outcry.Core.Saying;
using Outcry.Core.Targeting;
using Outcry.Core.Timing;
using Outcry.Core.Visitors;

namespace Outcry.Core.Greetings;

/// <summary>Checks a launcher against the rules of the job.</summary>
public static class LauncherCheck
{
    /// <summary>Rungs of a ladder at most.</summary>
    public const int MostRungs = 50;

    /// <summary>Channels of a launcher at most.</summary>
    public const int MostChannels = 12;

    private const int MostReplies = 8;
    private const int LongestLabel = 40;
    private const int LongestReply = 80;
    private const int LongestName = 60;
    private const int FurthestPx = 400;

    /// <summary>Everything wrong or noteworthy, in the order in which the desk shows its parts; none when it may go live.</summary>
    public static IReadOnlyList<Problem> Problems(LauncherBrief brief, CheckSetting setting) =>
        [
            .. TargetingCheck.Problems(Launcher.TargetingOf(brief), setting.Context, setting.Sources, moment: null),
            .. Own(brief),
            .. Script(brief, setting),
            .. Words(brief, setting.Context),
            .. Look(brief.Look),
            .. Channels(brief, setting.Context),
            .. HoursCheck.Problems(brief.Hours, setting.Moment),
            .. Mails(brief, setting.Context),
            .. Rungs(brief, setting),
        ];

    private static IEnumerable<Problem> Script(LauncherBrief brief, CheckSetting setting)
    {
        if (brief.ScriptId is { } script && !setting.IsLive(script))
            yield return Problem.Hint(
                "scriptId",
                "The script that its talks begin with is not live. Until it is, they begin with what the visitor writes, and the team answers."
            );
    }

    private static IEnumerable<Problem> Own(LauncherBrief brief)
    {
        if (brief.Priority is < 1 or > 9)
            yield return new Problem("priority", "The priority is between 1 (first) and 9.");
        if (brief.MostPerVisit is < 1 or > 20)
            yield return new Problem("mostPerVisit", "Between 1 and 20 greetings in a visit.");
        if (brief.Fragment.Length > LongestName || brief.Fragment.Any(c => char.IsWhiteSpace(c) || c == '#'))
            yield return new Problem("fragment", "The fragment is one word of at most 60 characters, such as ask.");
        if (brief.Speaker.Name.Length > LongestName || brief.Speaker.Role.Length > LongestName)
            yield return new Problem("speaker.name", $"A name and a role have at most {LongestName} characters.");
        if (brief.Speaker.Portrait.Length > 0 && SafeLink.TryPassPicture(brief.Speaker.Portrait) is null)
            yield return new Problem("speaker.portrait", "The portrait's address is no address of a picture.");
    }

    private static IEnumerable<Problem> Words(LauncherBrief brief, SiteContext context)
    {
        if (brief.Words.Count == 0)
        {
            yield return new Problem("words", "Write what stands on the button.");
            yield break;
        }
        for (var i = 0; i < brief.Words.Count; i++)
        {
            var words = brief.Words[i];
            var said = i == 0 ? "" : $"{words.Language}: ";
            if (i > 0 && !LanguageTag.IsWellFormed(words.Language))
                yield return new Problem("words", $"\"{words.Language}\" is not a language tag such as de or pt-BR.");
            if (words.Button.Trim().Length == 0)
                yield return new Problem(
                    $"words[{i}].button",
                    $"{said}Write what stands on the button; it is read out also where it is not shown."
                );
            foreach (var label in new[] { words.Button, words.ClosedButton, words.Title })
                if (label.Length > LongestLabel)
                    yield return new Problem(
                        $"words[{i}].button",
                        $"{said}Words on the button and above the panel have at most {LongestLabel} characters."
                    );
            foreach (
                var (field, text) in new[] { ("greeting", words.Greeting), ("closedGreeting", words.ClosedGreeting) }
            )
                if (text.Length > 0 || field == "greeting")
                    if (TextProblem(text) is { } objection)
                        yield return new Problem($"words[{i}].{field}", said + objection);
            if (words.Thanks.Length > MessageTemplate.MaxLength)
                yield return new Problem(
                    $"words[{i}].thanks",
                    $"{said}At most {MessageTemplate.MaxLength} characters."
                );
        }
        var tags = brief.Words.Select((w, i) => i == 0 ? context.Language : w.Language);
        if (tags.Distinct(StringComparer.OrdinalIgnoreCase).Count() < brief.Words.Count)
            yield return new Problem("words", "A language stands there twice.");
    }

    // No event is behind these words, so nothing but what is typed can stand in them.
    private static string? TextProblem(string text) =>
        MessageTemplate.TryParse(text, out var error) is not { } template ? error
        : template.Tokens.Count > 0 ? $"\"{template.Tokens[0]}\" is not known here: no event is behind these words."
        : template.Failure;

    private static IEnumerable<Problem> Look(LauncherLook look)
    {
        if (!Contrast.IsColour(look.Band))
            yield return new Problem("look.band", "The band's colour must be of the form #9C3517.");
        if (!Contrast.IsColour(look.Ground))
            yield return new Problem("look.ground", "The ground's colour must be of the form #FFFFFF.");
        if (new[] { look.EdgePx, look.SidePx, look.PhoneEdgePx }.Any(px => px is < 0 or > FurthestPx))
            yield return new Problem("look.edgePx", $"Between 0 and {FurthestPx} pixels from the edge.");
        if (look.Sign == ButtonSign.Picture && SafeLink.TryPassPicture(look.PictureAddress) is null)
            yield return new Problem("look.pictureAddress", "Choose the picture on the button, or another sign.");
        if (look.CornerPx is < 0 or > BrandKit.MostCornerPx)
            yield return new Problem("look.cornerPx", LookCheck.Corners);
        if (look is { Sign: ButtonSign.None, ShowsWords: false })
            yield return new Problem("look.showsWords", "Without a sign the button needs its words.");
    }

    private static IEnumerable<Problem> Channels(LauncherBrief brief, SiteContext context)
    {
        if (brief.Channels.Count == 0)
            yield return new Problem("channels", "Add a way to talk: without one the panel leads nowhere.");
        if (brief.Channels.Count > MostChannels)
            yield return new Problem("channels", $"At most {MostChannels} ways to talk.");
        if (brief.Channels.DistinctBy(c => c.Id).Count() < brief.Channels.Count)
            yield return new Problem("channels", "A way to talk stands there twice.");
        for (var i = 0; i < brief.Channels.Count; i++)
        {
            var (channel, at) = (brief.Channels[i], $"channels[{i}]");
            if (ChannelAddress.Objection(channel, context.Region, context.OwnDomains) is { } objection)
                yield return new Problem($"{at}.target", objection);
            if (channel.Label.Length > LongestLabel || channel.Translations.Any(t => t.Label.Length > LongestLabel))
                yield return new Problem($"{at}.label", $"A label has at most {LongestLabel} characters.");
            foreach (var prefill in channel.Translations.Select(t => t.Prefill).Append(channel.Prefill))
                if (prefill.Length > 0 && Prefill.Objection(prefill) is { } bad)
                    yield return new Problem($"{at}.prefill", bad);
            if (
                channel.Kind == ChannelKind.Form
                && !channel.Fields.Any(f => f is { Needed: true, Field: AskedField.Email or AskedField.Phone })
            )
                yield return new Problem(
                    $"{at}.fields",
                    "Ask for an e-mail address or a phone number, and need it: else nobody can answer."
                );
            if (channel is { Hours: ChannelHours.Own, Week.Count: 0 })
                yield return Problem.Hint($"{at}.week", "Without hours of its own it is offered always.");
            if (Enum.GetValues<Device>().All(channel.HiddenOn.Contains))
                yield return new Problem($"{at}.hiddenOn", "It is hidden on every device, so nobody would see it.");
        }
    }

    private static IEnumerable<Problem> Mails(LauncherBrief brief, SiteContext context)
    {
        foreach (var address in brief.MailTo)
            if (ChannelAddress.OfMail(address, context.OwnDomains) is { } objection)
                yield return new Problem("mailTo", objection);
        if (brief.MailTo.Count > 10)
            yield return new Problem("mailTo", "At most 10 addresses.");
    }

    private static IEnumerable<Problem> Rungs(LauncherBrief brief, CheckSetting setting)
    {
        if (brief.Rungs.Count > MostRungs)
            yield return new Problem("rungs", $"At most {MostRungs} greetings on a ladder.");
        if (brief.Rungs.DistinctBy(r => r.Id).Count() < brief.Rungs.Count)
            yield return new Problem("rungs", "A greeting stands there twice.");
        for (var i = 0; i < brief.Rungs.Count; i++)
            foreach (var problem in OfRung(brief.Rungs[i], brief.Look, setting))
                yield return problem with
                {
                    Field = $"rungs[{i}].{problem.Field}",
                };
        for (var i = 0; i + 1 < brief.Rungs.Count; i++)
            if (TakesAll(brief.Rungs[i]))
            {
                yield return Problem.Hint(
                    $"rungs[{i}]",
                    $"It fits everybody everywhere, so the {(i + 2 == brief.Rungs.Count ? "greeting" : "greetings")} below it will never come. Move it to the end."
                );
                break;
            }
    }

    private static bool TakesAll(Rung rung) =>
        rung
            is {
                Where: { Includes.Count: 0, Groups.Count: 0, Excludes.Count: 0 },
                Who.HiddenOn.Count: 0,
                Languages.Count: 0,
                While: GreetsWhile.Always,
                When: { OnlyIfAvailable: false, Schedule: var schedule }
            }
        && schedule == Schedule.Always
        && rung.Who.Rule is (AllOf { Rules.Count: 0 } or AnyOf { Rules.Count: 0 });

    private static IEnumerable<Problem> OfRung(Rung rung, LauncherLook look, CheckSetting setting)
    {
        var brief = GreetingBrief.Of(rung, look);
        var targeting = new Targeting.Targeting(rung.Where, rung.Who, rung.When, rung.HowOften, 0);
        foreach (var problem in SayCheck.Problems(brief, [], setting.Context))
            yield return problem;
        foreach (var problem in TargetingCheck.Problems(targeting, setting.Context, setting.Sources, setting.Moment))
            yield return problem;
        if (rung.Languages.FirstOrDefault(l => !LanguageTag.IsWellFormed(l)) is { } tag)
            yield return new Problem("languages", $"\"{tag}\" is not a language tag such as de or pt-BR.");
        if (rung.StaySeconds is < 2 or > 120)
            yield return new Problem("staySeconds", "It must stay between 2 and 120 seconds, or until closed.");
        foreach (var words in rung.Words)
        {
            if (words.Replies.Count > MostReplies)
                yield return new Problem("replies", $"At most {MostReplies} ready replies.");
            if (words.Replies.Any(r => r.Trim().Length is 0 or > LongestReply))
                yield return new Problem("replies", $"A ready reply has 1 to {LongestReply} characters.");
        }
    }
}
