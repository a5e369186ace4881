using System.Collections.Concurrent;
using Outcry.Standins.Site;

namespace Outcry.Standins.Outside;

/// <summary>A made-up messaging app's web version, and a made-up booking page: they take what is sent and show it.</summary>
internal static class Wren
{
    private sealed record Said(string To, string Text, DateTimeOffset At);

    private const int MostKept = 100;
    private static readonly ConcurrentQueue<Said> Received = new();

    public static void MapWren(this WebApplication app)
    {
        app.MapGet(
            "/outside/wren/{handle}",
            (string handle, string? text, SiteSettings settings, HttpContext http) =>
                Html.Page(settings, http, "Wren", Chat(handle, text ?? ""))
        );
        app.MapPost(
            "/outside/wren/{handle}",
            async (string handle, HttpContext http) =>
            {
                var form = await http.Request.ReadFormAsync();
                Received.Enqueue(new Said(handle, form["text"].ToString(), DateTimeOffset.UtcNow));
                while (Received.Count > MostKept)
                    Received.TryDequeue(out _);
                return Results.Redirect($"/outside/wren/{Uri.EscapeDataString(handle)}");
            }
        );
        app.MapGet("/outside/wren.json", () => Results.Json(Received));
        app.MapGet(
            "/outside/bookings",
            (SiteSettings settings, HttpContext http) =>
                Html.Page(
                    settings,
                    http,
                    "Bookings",
                    "<section class=\"text\"><h1>Book a place</h1><p>A made-up booking page: nothing can be booked here. <a href=\"/workshops\">See the workshops</a>.</p></section>"
                )
        );
    }

    private static string Chat(string handle, string text)
    {
        var lines = string.Concat(Received.Where(s => s.To == handle).Select(s => $"<li>{Html.Text(s.Text)}</li>"));
        return $"""
            <section class="text"><h1>Wren</h1><p>A made-up messaging app. You are writing to @{Html.Text(handle)}.</p>
            <ul id="received">{lines}</ul>
            <form method="post" action="/outside/wren/{Uri.EscapeDataString(handle)}">
            <label>Message <textarea name="text" rows="3" required>{Html.Text(text)}</textarea></label>
            <button>Send</button></form></section>
            """;
    }
}
