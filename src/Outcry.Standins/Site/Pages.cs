namespace Outcry.Standins.Site;

/// <summary>The pages one only looks at.</summary>
internal static class Pages
{
    public static void MapPages(this WebApplication app)
    {
        app.MapGet("/", Home);
        app.MapGet("/shop", Shop);
        app.MapGet(
            "/shop/{slug}",
            (string slug, Catalogue goods, Stockroom stock, SiteSettings settings, HttpContext http) =>
                goods.FindProduct(slug) is { } found
                    ? Product(found, goods, stock, settings, http)
                    : Missing(settings, http)
        );
        app.MapGet("/workshops", Workshops);
        app.MapGet(
            "/workshops/{slug}",
            (string slug, Catalogue goods, Stockroom stock, SiteSettings settings, HttpContext http) =>
                goods.FindWorkshop(slug) is { } found
                    ? Workshop(found, goods, stock, settings, http)
                    : Missing(settings, http)
        );
        app.MapGet("/journal", Journal);
        app.MapGet(
            "/journal/{slug}",
            (string slug, Catalogue goods, SiteSettings settings, HttpContext http) =>
                goods.Journal.FirstOrDefault(j => j.Slug == slug) is { } found
                    ? Piece(found, settings, http)
                    : Missing(settings, http)
        );
        app.MapGet(
            "/img/shelves.svg",
            (Catalogue goods) => Results.Content(Pottery.DrawShelves(goods.Products), "image/svg+xml")
        );
        app.MapGet(
            "/img/{slug}.svg",
            (string slug, Catalogue goods) =>
                goods.Find(slug) is { } found
                    ? Results.Content(Pottery.Draw(found), "image/svg+xml")
                    : Results.NotFound()
        );
    }

    private static IResult Home(Catalogue goods, SiteSettings settings, HttpContext http) =>
        Html.Page(
            settings,
            http,
            "Emberwick Pottery",
            $"""
            <section class="hero"><div><h1>Pots for every day</h1>
            <p>Thrown, glazed and fired in one small studio. Use them; they are meant to be used.</p>
            <p><a class="button" href="/shop">See the last firing</a></p></div>
            <img src="/img/celadon-vase.svg" alt="A celadon vase" width="420" height="420"></section>
            <section><h2>From the last firing</h2>{Grid(goods, goods.Products.Take(3))}</section>
            <section><h2>At the wheel</h2>{Grid(goods, goods.Workshops.Take(3))}</section>
            """
        );

    private static IResult Shop(Catalogue goods, SiteSettings settings, HttpContext http) =>
        Html.Page(
            settings,
            http,
            "Shop | Emberwick Pottery",
            $"""
            <section><h1>Shop</h1><p>Everything here exists once or a few times. When a firing is gone, it is gone.</p>
            {Grid(goods, goods.Products)}</section>
            """
        );

    private static IResult Workshops(Catalogue goods, SiteSettings settings, HttpContext http) =>
        Html.Page(
            settings,
            http,
            "Workshops | Emberwick Pottery",
            $"""
            <section><h1>Workshops</h1><p>Small groups, warm studio, all clay and glazes included.</p>
            {Grid(goods, goods.Workshops)}</section>
            """
        );

    private static IResult Journal(Catalogue goods, SiteSettings settings, HttpContext http) =>
        Html.Page(
            settings,
            http,
            "Journal | Emberwick Pottery",
            "<section class=\"text\"><h1>Journal</h1>"
                + string.Concat(
                    goods.Journal.Select(j =>
                        $"<article><h2><a href=\"/journal/{j.Slug}\">{Html.Text(j.Title)}</a></h2><p>{Html.Text(j.Words)}</p></article>"
                    )
                )
                + "</section>"
        );

    private static IResult Piece(JournalPiece piece, SiteSettings settings, HttpContext http) =>
        Html.Page(
            settings,
            http,
            $"{piece.Title} | Emberwick Pottery",
            $"<section class=\"text\"><h1>{Html.Text(piece.Title)}</h1>"
                + string.Concat(piece.Paragraphs.Select(p => $"<p>{Html.Text(p)}</p>"))
                + "</section>"
        );

    private static IResult Product(
        Article article,
        Catalogue goods,
        Stockroom stock,
        SiteSettings settings,
        HttpContext http
    )
    {
        var left = stock.Left(article.Slug);
        var buy =
            left == 0
                ? "<p><strong>Sold out.</strong> The next firing is in three weeks.</p>"
                : $"<form method=\"post\" action=\"/cart\"><input type=\"hidden\" name=\"slug\" value=\"{article.Slug}\"><button>Add to basket</button></form>";
        return Html.Page(
            settings,
            http,
            $"{article.Name} | Emberwick Pottery",
            $"""
            <script type="application/ld+json">{Review.JsonLd(
                goods,
                article,
                $"{http.Request.Scheme}://{http.Request.Host}"
            )}</script>
            <section class="product"><img src="/img/{article.Slug}.svg" alt="" width="480" height="480">
            <div><p class="small">{Html.Text(article.Category)}</p><h1>{Html.Text(article.Name)}</h1>
            <p class="price">{Html.Price(article.Price)}</p><p>{Html.Text(article.Words)}</p>
            <p class="stock">{(left == 0 ? "" : $"{left} left of this firing")}</p>{buy}</div></section>
            """
        );
    }

    private static IResult Workshop(
        Article article,
        Catalogue goods,
        Stockroom stock,
        SiteSettings settings,
        HttpContext http
    ) =>
        Html.Page(
            settings,
            http,
            $"{article.Name} | Emberwick Pottery",
            $"""
            <script type="application/ld+json">{Review.JsonLd(
                goods,
                article,
                $"{http.Request.Scheme}://{http.Request.Host}"
            )}</script>
            <section class="product"><img src="/img/{article.Slug}.svg" alt="" width="480" height="480">
            <div><h1>{Html.Text(article.Name)}</h1><p class="price">{Html.Price(article.Price)} a place</p>
            <p>{Html.Text(article.Words)}</p><p class="stock">{stock.Left(article.Slug)} places on Saturday</p>
            <form method="post" action="/cart"><input type="hidden" name="slug" value="{article.Slug}"><button>Book a place</button></form></div></section>
            """
        );

    private static IResult Missing(SiteSettings settings, HttpContext http) =>
        Html.Page(
            settings,
            http,
            "Not found",
            "<section class=\"text\"><h1>No such page</h1><p><a href=\"/shop\">Go to the shop</a></p></section>",
            404
        );

    private static string Grid(Catalogue goods, IEnumerable<Article> articles) =>
        "<ul class=\"grid\">"
        + string.Concat(
            articles.Select(a =>
                $"<li><a href=\"{goods.PathOf(a)}\"><img src=\"/img/{a.Slug}.svg\" alt=\"\" width=\"300\" height=\"300\"><span>{Html.Text(a.Name)}</span><b>{Html.Price(a.Price)}</b></a></li>"
            )
        )
        + "</ul>";
}
