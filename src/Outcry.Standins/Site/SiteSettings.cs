namespace Outcry.Standins.Site;

/// <summary>Where the demo shop's own server reports purchases, and with which secret; which snippet its pages carry.</summary>
internal sealed record SiteSettings(string Desk, string SiteKey, string Webhook, string Secret)
{
    public static SiteSettings Read(IConfiguration configuration) =>
        new(
            configuration["desk"] ?? "",
            configuration["siteKey"] ?? "",
            configuration["webhook"] ?? "",
            configuration["secret"] ?? ""
        );
}
