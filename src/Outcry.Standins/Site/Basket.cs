namespace Outcry.Standins.Site;

/// <summary>The visitor's basket: slugs in a cookie.</summary>
internal static class Basket
{
    private const string Cookie = "basket";
    private const int Most = 20;

    public static IReadOnlyList<string> Read(HttpContext http) =>
        [.. (http.Request.Cookies[Cookie] ?? "").Split('.', StringSplitOptions.RemoveEmptyEntries).Take(Most)];

    public static int Count(HttpContext http) => Read(http).Count;

    public static void Add(HttpContext http, string slug) => Write(http, Read(http).Append(slug).Take(Most));

    public static void Empty(HttpContext http) => http.Response.Cookies.Delete(Cookie);

    private static void Write(HttpContext http, IEnumerable<string> slugs) =>
        http.Response.Cookies.Append(
            Cookie,
            string.Join('.', slugs),
            new CookieOptions { HttpOnly = true, SameSite = SameSiteMode.Lax }
        );
}
