namespace Outcry.Standins.Site;

/// <summary>Basket and checkout. The shop's own server reports what was bought; the page does not.</summary>
internal static class Checkout
{
    public static void MapCheckout(this WebApplication app)
    {
        app.MapGet("/cart", Cart);
        app.MapPost("/cart", AddAsync);
        app.MapGet("/checkout", Form);
        app.MapPost("/checkout", BuyAsync);
        app.MapGet(
            "/checkout/thank-you",
            (SiteSettings settings, HttpContext http) =>
                Html.Page(
                    settings,
                    http,
                    "Thank you | Emberwick Pottery",
                    "<section class=\"text\"><h1>Thank you</h1><p>We wrap it tomorrow morning and write to you when it leaves.</p><p><a href=\"/shop\">Back to the shop</a></p></section>"
                )
        );
    }

    private static async Task<IResult> AddAsync(HttpContext http, Catalogue goods)
    {
        var form = await http.Request.ReadFormAsync();
        if (goods.Find(form["slug"].ToString()) is { } article)
            Basket.Add(http, article.Slug);
        return Results.Redirect("/cart");
    }

    private static IResult Cart(HttpContext http, Catalogue goods, SiteSettings settings)
    {
        var articles = Basket.Read(http).Select(goods.Find).OfType<Article>().ToList();
        var rows = string.Concat(
            articles.Select(a => $"<tr><td>{Html.Text(a.Name)}</td><td>{Html.Price(a.Price)}</td></tr>")
        );
        return Html.Page(
            settings,
            http,
            "Basket | Emberwick Pottery",
            articles.Count == 0
                ? "<section class=\"text\"><h1>Basket</h1><p>Nothing in it yet. <a href=\"/shop\">Go to the shop</a></p></section>"
                : $"<section class=\"text\"><h1>Basket</h1><table>{rows}<tr><th>Together</th><th>{Html.Price(articles.Sum(a => a.Price))}</th></tr></table><p><a class=\"button\" href=\"/checkout\">Go to checkout</a></p></section>"
        );
    }

    private static IResult Form(HttpContext http, SiteSettings settings) =>
        Basket.Count(http) == 0
            ? Results.Redirect("/cart")
            : Html.Page(
                settings,
                http,
                "Checkout | Emberwick Pottery",
                """
                <section class="text"><h1>Checkout</h1>
                <form id="checkout" class="stack" method="post" action="/checkout">
                <label>First name <input name="first_name" required autocomplete="given-name"></label>
                <label>Last name <input name="last_name" required autocomplete="family-name"></label>
                <label>E-mail <input name="email" type="email" required autocomplete="email"></label>
                <label>City <input name="city" autocomplete="address-level2"></label>
                <label>County or region <input name="region" autocomplete="address-level1"></label>
                <label>Country <input name="country" autocomplete="country-name"></label>
                <input type="hidden" name="visitor" data-outcry-visitor>
                <button>Buy</button><p class="small">This shop is made up: no money moves.</p></form></section>
                """
            );

    private static async Task<IResult> BuyAsync(
        HttpContext http,
        Catalogue goods,
        Stockroom stock,
        ShopReports reports,
        AddOn addOn,
        SiteSettings settings
    )
    {
        var form = await http.Request.ReadFormAsync();
        var buyer = new Buyer(
            form["first_name"]!,
            form["last_name"]!,
            form["email"]!,
            form["city"]!,
            form["region"]!,
            form["country"]!
        );
        if (string.IsNullOrWhiteSpace(buyer.FirstName) || string.IsNullOrWhiteSpace(buyer.Email))
            return Html.Page(
                settings,
                http,
                "Checkout",
                "<section class=\"text\"><h1>Something is missing</h1><p>We need a first name and an e-mail address. <a href=\"/checkout\">Back</a></p></section>",
                400
            );
        var visitor = form["visitor"].ToString();
        var origin = $"{http.Request.Scheme}://{http.Request.Host}";
        foreach (var article in Basket.Read(http).Select(goods.Find).OfType<Article>())
        {
            stock.Take(article.Slug);
            var kind = goods.IsWorkshop(article) ? "booking" : "purchase";
            var order = new Order(
                Guid.NewGuid().ToString("N"),
                DateTimeOffset.UtcNow,
                buyer,
                article,
                kind,
                visitor.Length == 0 ? null : visitor,
                origin,
                goods.PathOf(article)
            );
            // A shop reports each order one way: by its add-on once that is connected, else by its webhooks.
            if (addOn.Connected is not null)
            {
                await addOn.SendAsync(order, stock.Left(article.Slug));
                continue;
            }
            await reports.SendStockAsync(article, stock.Left(article.Slug), origin + goods.PathOf(article));
            await reports.SendAsync(order);
        }
        Basket.Empty(http);
        return Results.Redirect("/checkout/thank-you");
    }
}
