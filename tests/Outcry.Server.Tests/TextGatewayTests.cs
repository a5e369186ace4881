using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.Hosting;
using Microsoft.AspNetCore.Http;
using Microsoft.Extensions.Configuration;
using Microsoft.Extensions.Logging;
using Microsoft.Extensions.Logging.Abstractions;
using Outcry.Server.Mail;

namespace Outcry.Server.Tests;

/// <summary>What a gateway of text messages is posted, in whatever type it takes, and what its answers mean.</summary>
public sealed class TextGatewayTests : IAsyncLifetime
{
    private readonly WebApplication _gateway;
    private (string? Type, string? Authorization, string Body) _posted;
    private int _answers = 202;

    public TextGatewayTests()
    {
        var builder = WebApplication.CreateSlimBuilder();
        builder.Logging.ClearProviders();
        builder.WebHost.UseUrls("http://127.0.0.1:0");
        _gateway = builder.Build();
        _gateway.MapPost(
            "/texts",
            async http =>
            {
                using var reader = new StreamReader(http.Request.Body);
                _posted = (http.Request.ContentType, http.Request.Headers.Authorization, await reader.ReadToEndAsync());
                http.Response.StatusCode = _answers;
            }
        );
    }

    public async ValueTask InitializeAsync() => await _gateway.StartAsync();

    public ValueTask DisposeAsync() => _gateway.DisposeAsync();

    private async Task<Sending> SendAsync(string text, string type = "", string body = "", string? at = null)
    {
        var settings = new Dictionary<string, string?>
        {
            ["Texts:Gateway"] = at ?? $"{_gateway.Urls.First()}/texts",
            ["Texts:Type"] = type,
            ["Texts:Body"] = body,
            ["Texts:Authorization"] = "Bearer kiln",
        };
        using var gateway = new TextGateway(
            new ConfigurationBuilder().AddInMemoryCollection(settings).Build(),
            NullLogger<TextGateway>.Instance
        );
        return await gateway.SendAsync("+447700900123", text, "m1", TestContext.Current.CancellationToken);
    }

    [Theory]
    [InlineData("", "", """{"to":"+447700900123","text":"a \"b\" {id} é","id":"m1"}""")]
    [InlineData(
        "application/json; charset=utf-8",
        """{"t":"{text}","n":"{to}"}""",
        """{"t":"a \"b\" {id} é","n":"+447700900123"}"""
    )]
    [InlineData(
        "application/x-www-form-urlencoded",
        "to={to}&text={text}&id={id}",
        "to=%2B447700900123&text=a%20%22b%22%20%7Bid%7D%20%C3%A9&id=m1"
    )]
    public async Task Each_type_is_written_as_it_asks_and_a_text_stands_for_no_place(
        string type,
        string body,
        string posted
    )
    {
        Assert.Equal(Sending.Taken, await SendAsync("a \"b\" {id} é", type, body));
        Assert.Equal((posted, "Bearer kiln"), (_posted.Body, _posted.Authorization));
        Assert.StartsWith(type.Length > 0 ? type : "application/json", _posted.Type, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData(200, "Taken")]
    [InlineData(404, "Later")]
    [InlineData(422, "Nobody")]
    [InlineData(401, "Later")]
    [InlineData(429, "Later")]
    [InlineData(503, "Later")]
    public async Task An_answer_says_whether_it_went_or_is_tried_again_or_never(int answers, string means)
    {
        _answers = answers;
        Assert.Equal(means, $"{await SendAsync("Hello")}");
    }

    [Fact]
    public async Task A_gateway_that_is_away_is_asked_again() =>
        Assert.Equal(Sending.Later, await SendAsync("Hello", at: "http://127.0.0.1:1/texts"));
}
