namespace Outcry.Standins.Site;

/// <summary>Newsletter and quote: ordinary forms that know nothing of the snippet.</summary>
internal static class Forms
{
    public static void MapForms(this WebApplication app)
    {
        app.MapPost("/newsletter", () => Results.Redirect("/newsletter/thanks"));
        app.MapGet(
            "/newsletter/thanks",
            (SiteSettings settings, HttpContext http) =>
                Html.Page(
                    settings,
                    http,
                    "Welcome | Emberwick Pottery",
                    "<section class=\"text\"><h1>Welcome</h1><p>The next letter leaves on the first of the month.</p></section>"
                )
        );
        app.MapGet(
            "/quote",
            (SiteSettings settings, HttpContext http) =>
                Html.Page(
                    settings,
                    http,
                    "Commissions | Emberwick Pottery",
                    """
                    <section class="text"><h1>Commissions</h1><p>A dinner set, a wedding bowl, tiles for a stove: tell us what you have in mind.</p>
                    <form id="quote" class="stack" method="post" action="/quote">
                    <label>Your name <input name="name" required autocomplete="name"></label>
                    <label>E-mail <input name="email" type="email" required autocomplete="email"></label>
                    <label>What is it? <select name="piece"><option>Dinner set</option><option>Large vase</option><option>Tiles</option><option>Something else</option></select></label>
                    <label>How many pieces? <input name="pieces" type="number" min="1" max="500" value="12"></label>
                    <label>Anything else <textarea name="details" rows="4"></textarea></label>
                    <button>Ask for a quote</button></form></section>
                    """
                )
        );
        app.MapPost("/quote", () => Results.Redirect("/quote/thanks"));
        app.MapGet(
            "/quote/thanks",
            (SiteSettings settings, HttpContext http) =>
                Html.Page(
                    settings,
                    http,
                    "Thank you | Emberwick Pottery",
                    "<section class=\"text\"><h1>Thank you</h1><p>We answer within three working days.</p></section>"
                )
        );
    }
}
