using Outcry.Core.Care;
using Outcry.Tests.Shared;

namespace Outcry.Core.Tests;

/// <summary>The browser's list of countries is the numbering plans'.</summary>
public sealed class CallingCodesTests
{
    [Fact]
    public async Task The_browser_s_list_is_that_of_the_numbering_plans()
    {
        var root = Path.GetDirectoryName(Path.GetDirectoryName(Scenario.Folder()))!;
        var file = Path.Combine(root, "web", "embed", "src", "ask", "callingCodes.ts");
        var codes = string.Concat(PhoneNumber.Countries.Select(c => $"{c.Region}{c.Code}"));
        var text =
            "/** Countries (ISO 3166-1) with the code by which each is dialled, as the desk's numbering plans have them: a test holds it. */\n"
            + $"export const CODES =\n  '{codes}';\n";
        if (Environment.GetEnvironmentVariable("OUTCRY_WRITE_CODES") is not null)
            await File.WriteAllTextAsync(file, text, TestContext.Current.CancellationToken);
        Assert.Equal(text, await File.ReadAllTextAsync(file, TestContext.Current.CancellationToken));
    }

    [Theory]
    [InlineData("+44 07700 900123", "+447700900123")]
    [InlineData("+49 030 123456", "+4930123456")]
    [InlineData("+39 02 1234567", "+39021234567")]
    [InlineData("+1 202 555 0143", "+12025550143")]
    public void A_number_with_its_country_s_code_before_it_is_read_with_and_without_its_zero(
        string written,
        string number
    ) => Assert.Equal(number, PhoneNumber.ToE164(written, PhoneNumber.UnknownRegion));
}
