namespace Outcry.Standins.Site;

/// <summary>Where the demo shop's own server reports purchases, and with which secret; which snippet its pages carry.</summary>
/// <param name="StockWebhook">Where stock levels are reported, in the shop platform's own JSON; empty for nowhere.</param>
internal sealed record SiteSettings(
    string Desk,
    string SiteKey,
    string Webhook,
    string Secret,
    string StockWebhook = "",
    string StockSecret = ""
)
{
    public static SiteSettings Read(IConfiguration configuration) =>
        new(
            configuration["desk"] ?? "",
            configuration["siteKey"] ?? "",
            configuration["webhook"] ?? "",
            configuration["secret"] ?? "",
            configuration["stockWebhook"] ?? "",
            configuration["stockSecret"] ?? ""
        );
}
