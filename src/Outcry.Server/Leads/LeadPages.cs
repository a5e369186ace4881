using System.Text.Encodings.Web;
using Microsoft.EntityFrameworkCore;
using Microsoft.Net.Http.Headers;
using NodaTime;
using Outcry.Core.Asking;
using Outcry.Core.Saying;
using Outcry.Server.Platform;
using Outcry.Server.Sites;

namespace Outcry.Server.Leads;

/// <summary>
/// The pages behind the links of mails to leads. What opens a link never acts: programs that look mails through open links, too. Each page has one button,
/// which posts.
/// </summary>
internal sealed class LeadPages(LiveSites sites, LeadBook book, SystemDb database, DeskAddress desk, IClock clock)
{
    /// <summary>GET: asks for the press.</summary>
    public async Task<IResult> AskConfirmAsync(string siteKey, string token, HttpContext http)
    {
        if (
            Read(siteKey, LeadAct.Confirm, token) is not var (site, id)
            || await FindAsync(site, id, http) is not var (voice, found)
        )
            return Gone(siteKey, http);
        // Pressed before: what is theirs is shown again, and nothing happens twice.
        return found.Yes.ConfirmedAt is not null && found.Lead.Life.MayBeWrittenTo
            ? Done(http, site, voice, found)
            : Page(
                http,
                site,
                voice,
                BuiltInWords.Say(voice, BuiltInWord.ConfirmTitle),
                Button(BuiltInWords.Say(voice, BuiltInWord.MailConfirmButton)),
                LandingOf(site, found.Ask)
            );
    }

    /// <summary>POST: the press.</summary>
    public async Task<IResult> ConfirmAsync(string siteKey, string token, HttpContext http)
    {
        if (
            Read(siteKey, LeadAct.Confirm, token) is not var (site, id)
            || await book.ConfirmAsync(site, id, desk.Of(http.Request), http.RequestAborted) is not { } found
        )
            return Gone(siteKey, http);
        if (LandingOf(site, found.Ask) is not { } landing)
            return Done(http, site, LeadLetters.VoiceOf(site, found.Yes.Language), found);
        http.Response.Headers.CacheControl = "no-store";
        http.Response.Headers["Referrer-Policy"] = "no-referrer";
        http.Response.Headers.Location = landing.AbsoluteUri;
        return Results.StatusCode(StatusCodes.Status303SeeOther);
    }

    // Looked at anew at each press: a host that was the site's when the prompt went live need not be its own for ever.
    private static Uri? LandingOf(LiveSite site, AskFacet? ask) =>
        ask is { Landing.Length: > 0 } ? AskCheck.LandingOf(ask.Landing, new Uri(site.HomeAddress), site.Allows) : null;

    /// <summary>GET: asks for the press that takes everything back.</summary>
    public async Task<IResult> AskLeaveAsync(string siteKey, string token, HttpContext http)
    {
        if (Read(siteKey, LeadAct.Leave, token) is not var (site, id))
            return Gone(siteKey, http);
        var voice = await VoiceOfLeadAsync(site, id, http);
        return Page(
            http,
            site,
            voice,
            BuiltInWords.Say(voice, BuiltInWord.LeaveTitle),
            Button(BuiltInWords.Say(voice, BuiltInWord.LeaveButton))
        );
    }

    /// <summary>POST: takes everything back, by the button or by a mail program's own (RFC 8058).</summary>
    public async Task<IResult> LeaveAsync(string siteKey, string token, HttpContext http)
    {
        if (Read(siteKey, LeadAct.Leave, token) is not var (site, id))
            return Gone(siteKey, http);
        var voice = await VoiceOfLeadAsync(site, id, http);
        await book.WithdrawAsync(site, id, http.RequestAborted);
        return Page(http, site, voice, BuiltInWords.Say(voice, BuiltInWord.LeaveDone), "");
    }

    /// <summary>GET: the file that was promised.</summary>
    public async Task<IResult> FetchAsync(string siteKey, string token, HttpContext http)
    {
        if (
            Read(siteKey, LeadAct.Fetch, token) is not var (site, id)
            || await book.FindAsync(site, id, http.RequestAborted) is not { } found
            || !found.Lead.Life.MayBeWrittenTo
            || found.Ask?.Reward is not { Kind: RewardKind.File, SourceId: { } fileId }
        )
            return Gone(siteKey, http);
        await using var db = database.Open();
        var file = await db
            .RewardFiles.AsNoTracking()
            .FirstOrDefaultAsync(f => f.Id == fileId && f.SiteId == site.Id, http.RequestAborted);
        if (file is null)
            return Gone(siteKey, http);
        var headers = http.Response.Headers;
        headers.CacheControl = "private, no-store";
        headers.XContentTypeOptions = "nosniff";
        headers.ContentSecurityPolicy = "default-src 'none'; sandbox";
        var disposition = new ContentDispositionHeaderValue("attachment");
        disposition.SetHttpFileName(file.Name);
        headers.ContentDisposition = disposition.ToString();
        return Results.Bytes(file.Bytes, file.MediaType);
    }

    private (LiveSite Site, Guid Id)? Read(string siteKey, LeadAct act, string token) =>
        sites.FindByKey(siteKey) is { } site && LeadLink.TryRead(site, act, token, clock.GetCurrentInstant()) is { } id
            ? (site, id)
            : null;

    private async Task<(
        Voice Voice,
        (Store.Rows.LeadYesRow Yes, Store.Rows.LeadRow Lead, AskFacet? Ask) Found
    )?> FindAsync(LiveSite site, Guid id, HttpContext http) =>
        await book.FindAsync(site, id, http.RequestAborted) is { } found
            ? (LeadLetters.VoiceOf(site, found.Yes.Language), found)
            : null;

    private async Task<Voice> VoiceOfLeadAsync(LiveSite site, Guid leadId, HttpContext http)
    {
        await using var db = database.Open();
        var language = await db
            .Leads.Where(l => l.Id == leadId)
            .Select(l => l.Language)
            .FirstOrDefaultAsync(http.RequestAborted);
        return LeadLetters.VoiceOf(site, language ?? site.Context.Language);
    }

    private IResult Done(
        HttpContext http,
        LiveSite site,
        Voice voice,
        (Store.Rows.LeadYesRow Yes, Store.Rows.LeadRow Lead, AskFacet? Ask) found
    )
    {
        var parts = new List<string>();
        if (found.Yes.Code.Length > 0)
            parts.Add($"<p class=\"code\"><code>{Text(found.Yes.Code)}</code></p>");
        if (found.Ask?.Reward.Kind == RewardKind.File)
        {
            var path = LeadLink.PathOf(
                site,
                LeadAct.Fetch,
                found.Yes.Id,
                clock.GetCurrentInstant() + LeadLink.FetchesWithin
            );
            parts.Add(
                $"<p><a class=\"press\" href=\"{Text(path)}\">{Text(BuiltInWords.Say(voice, BuiltInWord.FetchFile))}</a></p>"
            );
        }
        parts.Add($"<p class=\"small\"><a href=\"{Text(site.HomeAddress)}\">{Text(site.Name)}</a></p>");
        var own = found.Ask?.WordsIn(found.Yes.Language, site.Context.Language).Confirmed ?? "";
        return Page(
            http,
            site,
            voice,
            own.Length > 0 ? own : BuiltInWords.Say(voice, BuiltInWord.ConfirmDone),
            string.Concat(parts)
        );
    }

    private IResult Gone(string siteKey, HttpContext http)
    {
        if (sites.FindByKey(siteKey) is not { } site)
            return Problems.NotFound("page");
        var voice = LeadLetters.VoiceOf(site, site.Context.Language);
        http.Response.StatusCode = StatusCodes.Status410Gone;
        return Page(http, site, voice, BuiltInWords.Say(voice, BuiltInWord.LinkGone), "");
    }

    private static string Button(string words) =>
        $"<form method=\"post\"><button class=\"press\" type=\"submit\">{Text(words)}</button></form>";

    private static string Text(string plain) => HtmlEncoder.Default.Encode(plain);

    private static IResult Page(
        HttpContext http,
        LiveSite site,
        Voice voice,
        string title,
        string inside,
        Uri? leadsTo = null
    )
    {
        var headers = http.Response.Headers;
        headers.CacheControl = "no-store";
        headers["Referrer-Policy"] = "no-referrer";
        headers.XContentTypeOptions = "nosniff";
        headers.XFrameOptions = "DENY";
        headers["X-Robots-Tag"] = "noindex";
        headers.ContentSecurityPolicy =
            // Browsers hold the answer to a form to this, too, where it leads elsewhere.
            $"default-src 'none'; style-src 'self'; form-action 'self'{(leadsTo is null ? "" : $" {leadsTo.GetLeftPart(UriPartial.Authority)}")}; base-uri 'none'; frame-ancestors 'none'";
        var direction = LanguageTag.IsRightToLeft(voice.Language) ? "rtl" : "ltr";
        var page =
            $"<!doctype html><html lang=\"{Text(voice.Language)}\" dir=\"{direction}\"><head><meta charset=\"utf-8\">"
            + "<meta name=\"viewport\" content=\"width=device-width\"><meta name=\"robots\" content=\"noindex\">"
            + $"<title>{Text(title)}</title><link rel=\"stylesheet\" href=\"/o/pages/{Text(site.Key)}.css\"></head>"
            + $"<body><main><p class=\"site\">{Text(site.Name)}</p><h1>{Text(title)}</h1>{inside}</main></body></html>";
        return Results.Content(page, "text/html; charset=utf-8", statusCode: http.Response.StatusCode);
    }

    /// <summary>GET /o/pages/SITE.css: these pages in the site's colours.</summary>
    public static IResult Style(string siteKey, LiveSites sites, HttpContext http)
    {
        if (sites.FindByKey(siteKey) is not { } site)
            return Problems.NotFound("site key");
        var look = LeadLetters.LookOf(site);
        http.Response.Headers.CacheControl = "public, max-age=300";
        return Results.Text(
            $$"""
            body { margin: 0; background: #f4f4f2; color: #1a1a1a; font: 17px/1.5 Georgia, serif; }
            main { max-width: 460px; margin: 12vh auto; padding: 28px 32px; background: #fff; border-inline-start: 4px solid {{look.Band}}; }
            h1 { margin: 0 0 20px; font-size: 24px; line-height: 1.25; }
            .site { margin: 0 0 20px; font-size: 14px; }
            .press { display: inline-block; padding: 12px 20px; border: 0; border-radius: {{look.CornerPx}}px; background: {{look.Band}};
              color: {{look.Ink}}; font: bold 17px/1.25 Georgia, serif; text-decoration: none; cursor: pointer; }
            .press:focus-visible { outline: 3px solid #1a1a1a; outline-offset: 3px; }
            .code { padding: 14px; border: 1px dashed {{look.Band}}; font-size: 20px; }
            .small { font-size: 14px; }
            @media (max-width: 520px) { main { margin: 0; min-height: 100vh; box-sizing: border-box; } }
            """,
            "text/css"
        );
    }
}
