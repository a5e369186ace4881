using System.Text.Encodings.Web;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Access;
using Outcry.Core.Asking;
using Outcry.Core.Briefs;
using Outcry.Core.Following;
using Outcry.Core.Publishing;
using Outcry.Core.Saying;
using Outcry.Server.Sites;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Leads;

/// <summary>Mails to leads: a text part, the same as a page with one button in the site's colours, and no other link than how to take it back.</summary>
internal sealed class LeadLetters(IClock clock)
{
    /// <summary>Asks to confirm an address.</summary>
    public void AskToConfirm(OutcryDb db, LiveSite site, LeadRow lead, LeadYesRow yes, AskFacet ask, string desk)
    {
        if (lead.Email is not { } to)
            return;
        var now = clock.GetCurrentInstant();
        var link = desk + LeadLink.PathOf(site, LeadAct.Confirm, yes.Id, now + LeadLife.ConfirmsWithin);
        var (subject, parts) = Confirm(site, ask, yes.Language, link);
        Send(db, site, (to, lead.Id), $"{yes.Id}:confirm:{now.ToUnixTimeMilliseconds()}", subject, parts);
    }

    private static (string Subject, LetterParts Parts) Confirm(
        LiveSite site,
        AskFacet ask,
        string language,
        string link,
        string? small = null
    )
    {
        var voice = VoiceOf(site, language);
        var own = ask.WordsIn(language, site.Context.Language).Mail;
        return (
            BuiltInWords.Say(voice, BuiltInWord.MailConfirm),
            new LetterParts(
                voice,
                [own.Length > 0 ? own : BuiltInWords.Say(voice, BuiltInWord.MailConfirmText, site.Name)],
                (BuiltInWords.Say(voice, BuiltInWord.MailConfirmButton), link),
                small ?? BuiltInWords.Say(voice, BuiltInWord.MailNotYou),
                null
            )
        );
    }

    /// <summary>The mail that asks to confirm as mail programs show it, its subject above; its button leads nowhere.</summary>
    public static string ConfirmPage(LiveSite site, AskFacet ask, string language)
    {
        var (subject, parts) = Confirm(site, ask, language, "#");
        return Page(site, subject, parts, "", showsSubject: true);
    }

    /// <summary>Brings what was promised, once it is theirs.</summary>
    public void Bring(OutcryDb db, LiveSite site, LeadRow lead, LeadYesRow yes, Reward reward, string desk)
    {
        if (lead.Email is not { } to || (reward.Kind is RewardKind.Code or RewardKind.Pool && yes.Code.Length == 0))
            return;
        var now = clock.GetCurrentInstant();
        var voice = VoiceOf(site, yes.Language);
        (string, string)? button =
            reward.Kind == RewardKind.File
                ? (
                    BuiltInWords.Say(voice, BuiltInWord.FetchFile),
                    desk + LeadLink.PathOf(site, LeadAct.Fetch, yes.Id, now + LeadLink.FetchesWithin)
                )
                : null;
        Send(
            db,
            site,
            (to, lead.Id),
            $"{yes.Id}:brings",
            BuiltInWords.Say(voice, BuiltInWord.MailYours),
            new LetterParts(
                voice,
                yes.Code.Length > 0 ? [BuiltInWords.Say(voice, BuiltInWord.MailYours), yes.Code] : [site.Name],
                button,
                "",
                desk + LeadLink.PathOf(site, LeadAct.Leave, lead.Id, null)
            )
        );
    }

    /// <summary>Writes a mail or a text message of a follow-up.</summary>
    public void FollowUp(OutcryDb db, LiveSite site, LeadRow lead, FollowRunRow run, FollowStep step)
    {
        var values = new Dictionary<string, string>(lead.Answers)
        {
            ["first_name"] = lead.FirstName,
            ["surname"] = lead.Surname,
        };
        var leave = run.Desk + LeadLink.PathOf(site, LeadAct.Leave, lead.Id, null);
        if (step.Kind == FollowKind.Text && lead.Phone is { } number)
            Text(db, site, (number, lead.Id), $"{run.Id}:{step.Id}", TextOf(site, step, lead.Language, values, leave));
        else if (step.Kind == FollowKind.Mail && lead.Email is { } to)
            Follow(db, site, (to, lead.Id), $"{run.Id}:{step.Id}", lead.Language, values, step, "", leave);
    }

    /// <summary>A text message as it goes out: its words, and how to take it back.</summary>
    public static string TextOf(
        LiveSite site,
        FollowStep step,
        string language,
        IReadOnlyDictionary<string, string> values,
        string leave
    )
    {
        var paragraphs = FollowText.Write(step, language, site.Context.Language, values).Paragraphs;
        return paragraphs.Count == 0
            ? ""
            : $"{string.Join("\n\n", paragraphs)}\n{BuiltInWords.Say(VoiceOf(site, language), BuiltInWord.TextLeave, leave)}";
    }

    private void Text(OutcryDb db, LiveSite site, (string Number, Guid Lead) to, string about, string text)
    {
        var now = clock.GetCurrentInstant();
        Add(
            db,
            new LetterRow
            {
                WorkspaceId = site.WorkspaceId,
                SiteId = site.Id,
                To = to.Number,
                IsText = true,
                LeadId = to.Lead,
                About = about,
                Subject = "",
                Text = text,
                MadeAt = now,
                NextAt = now,
            }
        );
    }

    /// <summary>The same to a member who wants to see it.</summary>
    public void TestFollowUp(
        OutcryDb db,
        LiveSite site,
        string to,
        string firstName,
        FollowStep step,
        string language
    ) =>
        Follow(
            db,
            site,
            (to, null),
            $"{Guid.CreateVersion7()}:test",
            language,
            new Dictionary<string, string> { ["first_name"] = firstName },
            step,
            ForTheTeam,
            null
        );

    /// <summary>The mail that asks to confirm, to a member who wants to see it; its button leads home.</summary>
    public void TestConfirm(OutcryDb db, LiveSite site, string to, AskFacet ask, string language)
    {
        var (subject, parts) = Confirm(site, ask, language, site.HomeAddress, ForTheTeam);
        Send(db, site, (to, null), $"{Guid.CreateVersion7()}:test", subject, parts);
    }

    private const string ForTheTeam = "A try, sent to nobody but you.";

    private void Follow(
        OutcryDb db,
        LiveSite site,
        (string Address, Guid? Lead) to,
        string about,
        string language,
        IReadOnlyDictionary<string, string> values,
        FollowStep step,
        string small,
        string? leaveAt
    )
    {
        var mail = FollowText.Write(step, language, site.Context.Language, values);
        Send(
            db,
            site,
            to,
            about,
            mail.Subject,
            new LetterParts(
                VoiceOf(site, language),
                mail.Paragraphs,
                mail.Button.Length > 0 ? (mail.Button, step.Link) : null,
                small,
                leaveAt
            )
        );
    }

    /// <summary>Tells the owners that few codes are left.</summary>
    public async Task WarnOfPoolAsync(
        OutcryDb db,
        LiveSite site,
        CodePoolRow pool,
        int left,
        string desk,
        CancellationToken stop
    )
    {
        var owners = await db
            .Memberships.Where(m => m.WorkspaceId == site.WorkspaceId && m.Role == Role.Owner)
            .Join(db.Users, m => m.MemberId, u => u.Id, (m, u) => u.Email!)
            .ToListAsync(stop);
        var now = clock.GetCurrentInstant();
        foreach (var owner in owners)
            db.Letters.Add(
                new LetterRow
                {
                    WorkspaceId = site.WorkspaceId,
                    SiteId = site.Id,
                    To = owner,
                    About = $"{pool.Id}:{pool.WarnedAt!.Value.ToUnixTimeSeconds()}",
                    Subject = left == 0 ? $"{pool.Name}: no codes are left" : $"{pool.Name}: {left} codes are left",
                    Text =
                        $"Prompts give the codes of the pool \"{pool.Name}\". Add some under Leads, Rewards: {desk}/leads",
                    MadeAt = now,
                    NextAt = now,
                }
            );
    }

    private sealed record LetterParts(
        Voice Voice,
        IReadOnlyList<string> Lines,
        (string Words, string Link)? Button,
        string Small,
        string? LeaveAt
    );

    private void Send(
        OutcryDb db,
        LiveSite site,
        (string Address, Guid? Lead) to,
        string about,
        string subject,
        LetterParts parts
    )
    {
        var now = clock.GetCurrentInstant();
        var leave = parts.LeaveAt is { } at ? BuiltInWords.Say(parts.Voice, BuiltInWord.MailLeave, at) : "";
        var text = parts
            .Lines.Append(parts.Button is { } button ? $"{button.Words}:\n{button.Link}" : "")
            .Append(parts.Small)
            .Append(leave)
            .Where(l => l.Length > 0);
        Add(
            db,
            new LetterRow
            {
                WorkspaceId = site.WorkspaceId,
                SiteId = site.Id,
                To = to.Address,
                LeadId = to.Lead,
                About = about,
                Subject = subject,
                Text = string.Join("\n\n", text),
                Html = Page(site, subject, parts, leave),
                LeaveAt = parts.LeaveAt,
                MadeAt = now,
                NextAt = now,
            }
        );
    }

    private static void Add(OutcryDb db, LetterRow letter)
    {
        db.Letters.Add(letter);
        if (letter.LeadId is { } lead)
            db.LeadMails.Add(LeadMailRow.Of(letter, lead));
    }

    // One column, one button, the site's own colours; nothing is fetched by it, so nobody is counted who reads.
    private static string Page(
        LiveSite site,
        string subject,
        LetterParts parts,
        string leave,
        bool showsSubject = false
    )
    {
        static string Text(string plain) =>
            HtmlEncoder.Default.Encode(plain).Replace("&#xA;", "<br>", StringComparison.Ordinal);
        var look = LookOf(site);
        var direction = LanguageTag.IsRightToLeft(parts.Voice.Language) ? "rtl" : "ltr";
        var lines = string.Concat(
            parts.Lines.Select(
                (l, i) => $"<p style=\"margin:0 0 16px;font-size:{(i == 0 ? 18 : 16)}px;line-height:1.5\">{Text(l)}</p>"
            )
        );
        var button = parts.Button is { } press
            ? $"<p style=\"margin:24px 0\"><a href=\"{HtmlEncoder.Default.Encode(press.Link)}\" style=\"display:inline-block;padding:12px 20px;"
                + $"background:{look.Band};color:{look.Ink};text-decoration:none;font-weight:bold;border-radius:{look.CornerPx}px\">{Text(press.Words)}</a></p>"
            : "";
        var small = string.Concat(
            new[] { parts.Small, leave }
                .Where(s => s.Length > 0)
                .Select(s => $"<p style=\"margin:0 0 12px;font-size:13px;line-height:1.5;color:#555\">{Text(s)}</p>")
        );
        var above = showsSubject
            ? $"<h1 style=\"max-width:576px;margin:0 auto 16px;font:bold 16px/1.4 Georgia,serif;color:#1a1a1a\">{Text(subject)}</h1>"
            : "";
        return $"<!doctype html><html lang=\"{Text(parts.Voice.Language)}\" dir=\"{direction}\"><head><meta charset=\"utf-8\">"
            + $"<title>{Text(subject)}</title></head><body style=\"margin:0;padding:24px;background:#f4f4f2\">{above}"
            + $"<div style=\"max-width:520px;margin:0 auto;padding:28px;background:#fff;color:#1a1a1a;border-inline-start:4px solid {look.Band};"
            + $"font-family:Georgia,serif\"><p style=\"margin:0 0 20px;font-size:14px\">{Text(site.Name)}</p>{lines}{button}{small}</div></body></html>";
    }

    /// <summary>The site's colours, or quiet ones.</summary>
    public static (string Band, string Ink, int CornerPx) LookOf(LiveSite site)
    {
        var band = site.Kit?.Band ?? StarterBrief.Band;
        return (band, Contrast.InkOn(band), site.Kit?.CornerPx ?? BrandKit.UsualCornerPx);
    }

    /// <summary>How somebody is spoken to in a language.</summary>
    public static Voice VoiceOf(LiveSite site, string language) =>
        Voice.Of(language, [language], site.Context.WordsOf(language));
}
