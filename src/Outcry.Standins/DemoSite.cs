using Outcry.Standins.Outside;
using Outcry.Standins.Site;

namespace Outcry.Standins;

/// <summary>Emberwick Pottery: a made-up studio on an origin of its own, knowing nothing of the desk but a line of script and an address.</summary>
internal static class DemoSite
{
    public static WebApplication Build(string[] args)
    {
        var builder = WebApplication.CreateBuilder(
            new WebApplicationOptions
            {
                Args = args,
                ContentRootPath = AppContext.BaseDirectory,
                WebRootPath = SiteFiles(),
            }
        );
        // The secrets: OUTCRY_SITE_SECRET and OUTCRY_SITE_STOCKSECRET.
        builder.Configuration.AddEnvironmentVariables("OUTCRY_SITE_");
        builder.Logging.SetMinimumLevel(LogLevel.Warning);
        builder.WebHost.ConfigureKestrel(k => k.AddServerHeader = false);
        builder.Services.AddSingleton(Catalogue.Read());
        builder.Services.AddSingleton(SiteSettings.Read(builder.Configuration));
        builder.Services.AddSingleton<Stockroom>();
        builder.Services.AddHttpClient<ShopReports>(c => c.Timeout = TimeSpan.FromSeconds(5));
        builder.Services.AddHttpClient(nameof(AddOn), c => c.Timeout = TimeSpan.FromSeconds(20));
        builder.Services.AddSingleton<AddOn>();
        var desk = builder.Configuration["desk"];
        var mailbox = new Mailbox(
            builder.Configuration.GetValue("smtp", 0),
            new ComesBack(
                desk is { Length: > 0 } ? new Uri($"{desk.TrimEnd('/')}/in/bounces") : null,
                builder.Configuration["BounceKey"] ?? ""
            )
        );
        builder.Services.AddSingleton(mailbox);
        builder.Services.AddSingleton<Phone>();
        builder.Services.AddHostedService(_ => mailbox);
        var app = builder.Build();
        app.UseStaticFiles();
        app.MapGet("/health", () => "ok");
        app.MapPages();
        app.MapCheckout();
        app.MapForms();
        app.MapBackOffice();
        app.MapStudio();
        app.MapElsewhere();
        app.MapWren();
        app.MapFallback(
            (SiteSettings settings, HttpContext http) =>
                Html.Page(
                    settings,
                    http,
                    "Not found",
                    "<section class=\"text\"><h1>No such page</h1><p><a href=\"/shop\">Go to the shop</a></p></section>",
                    404
                )
        );
        return app;
    }

    // Beside the program when it was published, in the source tree when it runs from there.
    private static string SiteFiles()
    {
        for (var at = new DirectoryInfo(AppContext.BaseDirectory); at is not null; at = at.Parent)
            if (Path.Combine(at.FullName, "src", "Outcry.Standins", "wwwroot") is var found && Directory.Exists(found))
                return found;
        return Path.Combine(AppContext.BaseDirectory, "wwwroot");
    }
}

/// <summary>How many pieces are left, for as long as the demo runs.</summary>
internal sealed class Stockroom(Catalogue catalogue)
{
    private readonly Dictionary<string, int> _left = catalogue
        .Products.Concat(catalogue.Workshops)
        .ToDictionary(a => a.Slug, a => a.Stock);

    public int Left(string slug)
    {
        lock (_left)
            return _left.GetValueOrDefault(slug);
    }

    public void Take(string slug)
    {
        lock (_left)
            _left[slug] = Math.Max(0, _left.GetValueOrDefault(slug) - 1);
    }
}
