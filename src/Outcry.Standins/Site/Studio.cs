namespace Outcry.Standins.Site;

/// <summary>The studio's corner of the site, made as a single-page application: route changes, a form that a script adds later and sends with fetch.</summary>
internal static class Studio
{
    public static void MapStudio(this WebApplication app)
    {
        app.MapGet(
            "/studio/{**rest}",
            (SiteSettings settings, HttpContext http) =>
                Html.Page(settings, http, "The studio | Emberwick Pottery", Body)
        );
        app.MapPost(
            "/studio/voucher",
            async (HttpContext http) =>
            {
                var form = await http.Request.ReadFormAsync();
                return
                    form["amount"].ToString().Length > 0
                    && form["email"].ToString().Contains('@', StringComparison.Ordinal)
                    ? Results.Ok()
                    : Results.BadRequest();
            }
        );
        app.MapGet(
            "/privacy",
            (SiteSettings settings, HttpContext http) =>
                Html.Page(settings, http, "Your choice | Emberwick Pottery", Choice)
        );
    }

    private const string Body = """
        <section class="text"><h1>The studio</h1>
        <p class="tabs"><a href="/studio" data-route>Visit us</a> <a href="/studio/kiln" data-route>The kiln</a> <a href="/studio/voucher" data-route>Gift voucher</a></p>
        <div id="view"></div></section>
        <script src="/studio.js" defer></script>
        """;

    private const string Choice = """
        <section class="text"><h1>Your choice</h1>
        <p>May this site remember in your browser which notes you have seen, so that it does not repeat them?</p>
        <p><button type="button" id="agree">Yes, remember</button> <button type="button" id="refuse">No, forget</button></p>
        <p id="chosen" role="status"></p></section>
        <script src="/privacy.js" defer></script>
        """;
}
