using System.Globalization;
using System.Text;
using System.Text.Json;
using Outcry.Standins.Site;

namespace Outcry.Standins.Outside;

/// <summary>What other services say about the studio: a review list in several formats, a profile's totals, the journal as a feed, a mailbox.</summary>
internal static class Elsewhere
{
    public static void MapElsewhere(this WebApplication app)
    {
        app.MapGet(
            "/outside/reviews.json",
            (Catalogue goods) => Results.Json(new { data = new { reviews = Review.All(goods) } })
        );
        app.MapGet(
            "/outside/reviews.ndjson",
            (Catalogue goods) =>
                Results.Text(
                    string.Join('\n', Review.All(goods).Select(r => JsonSerializer.Serialize(r))),
                    "application/x-ndjson"
                )
        );
        app.MapGet("/outside/reviews.csv", (Catalogue goods) => Results.Text(Csv(goods), "text/csv"));
        // A follower more now and then, so that a total can be seen to move.
        app.MapGet(
            "/outside/profile.json",
            () =>
                Results.Json(
                    new { profile = new { name = "Emberwick Pottery", followers = 4_812 + DateTime.UtcNow.DayOfYear } }
                )
        );
        app.MapGet(
            "/journal/feed.atom",
            (HttpContext http, Catalogue goods) => Results.Text(Atom(http, goods), "application/atom+xml")
        );
        app.MapGet(
            "/journal/feed.rss",
            (HttpContext http, Catalogue goods) => Results.Text(Rss(http, goods), "application/rss+xml")
        );
        app.MapPost(
            "/outside/texts",
            (SentText text, Phone phone) => phone.Take(text) ? Results.Accepted() : Results.UnprocessableEntity()
        );
        app.MapGet("/phone", Phone.Page);
        app.MapGet("/phone.json", (Phone phone) => Results.Json(phone.Texts));
        app.MapGet("/mailbox", Inbox);
        app.MapGet("/mailbox.json", (Mailbox mailbox) => Results.Json(mailbox.Mails));
    }

    private static string Csv(Catalogue goods)
    {
        var csv = new StringBuilder("id,author,rating,review,product,date\r\n");
        foreach (var r in Review.All(goods))
            csv.Append(
                CultureInfo.InvariantCulture,
                $"{r.id},{r.author},{r.rating},\"{r.text}\",\"{r.item}\",{r.created}\r\n"
            );
        return csv.ToString();
    }

    private static DateTime Published(int place) => DateTime.UtcNow.Date.AddDays(-7 * place - 2).AddHours(9);

    private static string Atom(HttpContext http, Catalogue goods)
    {
        var origin = $"{http.Request.Scheme}://{http.Request.Host}";
        var entries = goods.Journal.Select(
            (j, i) =>
                $"<entry><id>{origin}/journal/{j.Slug}</id><title>{Html.Text(j.Title)}</title><link rel=\"alternate\" href=\"{origin}/journal/{j.Slug}\"/><updated>{Published(i):yyyy-MM-dd'T'HH:mm:ss'Z'}</updated><published>{Published(i):yyyy-MM-dd'T'HH:mm:ss'Z'}</published><summary>{Html.Text(j.Words)}</summary></entry>"
        );
        return $"<?xml version=\"1.0\" encoding=\"utf-8\"?><feed xmlns=\"http://www.w3.org/2005/Atom\"><id>{origin}/journal</id><title>Emberwick Journal</title><updated>{Published(0):yyyy-MM-dd'T'HH:mm:ss'Z'}</updated>{string.Concat(entries)}</feed>";
    }

    private static string Rss(HttpContext http, Catalogue goods)
    {
        var origin = $"{http.Request.Scheme}://{http.Request.Host}";
        var items = goods.Journal.Select(
            (j, i) =>
                $"<item><guid>{origin}/journal/{j.Slug}</guid><title>{Html.Text(j.Title)}</title><link>{origin}/journal/{j.Slug}</link><pubDate>{Published(i):R}</pubDate><description>{Html.Text(j.Words)}</description></item>"
        );
        return $"<?xml version=\"1.0\" encoding=\"utf-8\"?><rss version=\"2.0\"><channel><title>Emberwick Journal</title><link>{origin}/journal</link><description>From the studio</description>{string.Concat(items)}</channel></rss>";
    }

    private static string InvitationIn(ReceivedMail mail) =>
        mail.Calendar.Length > 0
            ? $"<details><summary>Invitation, as a calendar reads it</summary><pre>{Html.Text(mail.Calendar)}</pre></details>"
            : "";

    private static IResult Inbox(Mailbox mailbox, SiteSettings settings, HttpContext http)
    {
        var mails = string.Concat(
            mailbox.Mails.Select(m =>
                $"<article><h2>{Html.Text(m.Subject)}</h2><p class=\"small\">to {Html.Text(m.To)}, {m.At:HH:mm:ss}</p><pre>{Html.Text(m.Text)}</pre>{InvitationIn(m)}</article>"
            )
        );
        return Html.Page(
            settings with
            {
                SiteKey = "",
            },
            http,
            "Mailbox",
            $"<section class=\"text\"><h1>Mailbox</h1><p>What the desk has sent, to whomever; nothing leaves this machine.</p>{(mails.Length > 0 ? mails : "<p>Nothing yet.</p>")}</section>"
        );
    }
}
