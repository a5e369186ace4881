using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Identity;
using Outcry.Server.Platform;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Accounts;

/// <summary>Accounts: the door, one's own account, opening a workspace.</summary>
internal static class AccountsFeature
{
    public static void AddAccounts(this WebApplicationBuilder builder)
    {
        builder
            .Services.AddIdentityCore<Member>(o =>
            {
                o.Password.RequiredLength = PasswordRules.Shortest;
                o.Password.RequireNonAlphanumeric = false;
                o.Password.RequireUppercase = false;
                o.Password.RequireLowercase = false;
                o.Password.RequireDigit = false;
                o.User.RequireUniqueEmail = true;
                OutcryDb.UseSchema(o);
            })
            .AddSignInManager()
            .AddDefaultTokenProviders()
            .AddPasswordValidator<KnownPasswords>()
            .AddEntityFrameworkStores<OutcryDb>();
        builder.Services.Configure<DataProtectionTokenProviderOptions>(o => o.TokenLifespan = TimeSpan.FromHours(1));
        builder.Services.Configure<IdentityPasskeyOptions>(o =>
        {
            // Whoever shows one has unlocked it: it stands for two factors.
            o.UserVerificationRequirement = "required";
            o.ResidentKeyRequirement = "required";
            if (Uri.TryCreate(builder.Configuration["Desk:Address"], UriKind.Absolute, out var desk))
                o.ServerDomain = desk.Host;
        });
        // Whoever is signed in may do nothing yet: the desk is for members.
        builder
            .Services.AddAuthorizationBuilder()
            .SetDefaultPolicy(
                new AuthorizationPolicyBuilder()
                    .RequireAuthenticatedUser()
                    .AddRequirements(new MembershipRequirement())
                    .Build()
            );
        builder.Services.AddScoped<IAuthorizationHandler, MembershipHandler>();
        builder.Services.AddSingleton<MembershipCheck>();
        builder.Services.AddSingleton<SignInGuard>();
        builder.Services.AddSingleton<SignInNotes>();
        builder.Services.AddSingleton<UsedCodes>();
        builder.Services.AddSingleton<HouseDoor>();
        builder.Services.AddSingleton<IBeforeReady>(s => s.GetRequiredService<HouseDoor>());
        builder.Services.AddSingleton<AccountLetters>();
        builder.Services.AddScoped<Sessions>();
        builder.Services.AddScoped<WorkspaceMaker>();
        builder.Services.AddAuthentication(IdentityConstants.ApplicationScheme).AddIdentityCookies();
        builder.Services.ConfigureApplicationCookie(o =>
        {
            o.Cookie.Name = "outcry.session";
            o.Cookie.HttpOnly = true;
            o.Cookie.SameSite = SameSiteMode.Lax;
            o.ExpireTimeSpan = TimeSpan.FromDays(14);
            o.SlidingExpiration = true;
            o.Events.OnRedirectToLogin = c => Refuse(c.HttpContext);
            o.Events.OnRedirectToAccessDenied = c => RefuseNonMember(c.HttpContext);
            o.Events.OnValidatePrincipal = Sessions.ValidateAsync;
        });
    }

    public static void MapAccounts(this RouteGroupBuilder api)
    {
        var session = api.MapGroup("/session").WithTags("Session").AllowAnonymous().ForOneself();
        session.MapGet("", SignIn.ShowAsync).WithName("GetSession");
        session.MapPost("", SignIn.BeginAsync).RequireRateLimiting(Limits.SignIn).WithName("SignIn");
        session.MapPost("/second", SignIn.CompleteAsync).RequireRateLimiting(Limits.SignIn).WithName("SignInSecond");
        session.MapDelete("", SignIn.EndAsync).WithName("SignOut");
        session
            .MapPost("/passkey/options", Passkeys.AskAsync)
            .RequireRateLimiting(Limits.SignIn)
            .WithName("AskForPasskey");
        session
            .MapPost("/passkey", Passkeys.SignInAsync)
            .RequireRateLimiting(Limits.SignIn)
            .WithName("SignInByPasskey");
        session.MapPost("/forgotten", Resetting.Ask).RequireRateLimiting(Limits.SignIn).WithName("AskForReset");
        session.MapPost("/reset", Resetting.ResetAsync).RequireRateLimiting(Limits.SignIn).WithName("ResetPassword");
        session.MapPost("/opening", Opening.OpenAsync).RequireRateLimiting(Limits.SignIn).WithName("OpenWorkspace");
        session.MapPost("/registration", Opening.Register).RequireRateLimiting(Limits.SignIn).WithName("Register");

        var account = api.MapGroup("/account").WithTags("Account").ForOneself();
        account.MapGet("", OwnAccount.ShowAsync).WithName("GetAccount");
        account.MapPut("/name", OwnAccount.RenameAsync).WithName("RenameAccount");
        account.MapPut("/password", OwnAccount.ChangePasswordAsync).WithName("ChangePassword");
        account.MapPost("/factor/key", OwnAccount.MakeKeyAsync).WithName("MakeFactorKey");
        account.MapPost("/factor", OwnAccount.TurnOnAsync).WithName("TurnFactorOn");
        account.MapPost("/factor/off", OwnAccount.TurnOffAsync).WithName("TurnFactorOff");
        account.MapPost("/factor/codes", OwnAccount.MakeCodesAsync).WithName("MakeRecoveryCodes");
        account.MapPost("/passkeys/options", Passkeys.OfferAsync).WithName("OfferPasskey");
        account.MapPost("/passkeys", Passkeys.AddAsync).WithName("AddPasskey");
        account.MapDelete("/passkeys/{passkeyId}", Passkeys.RemoveAsync).WithName("RemovePasskey");
        account.MapGet("/sessions", Sessions.ListAsync).WithName("ListSessions");
        account.MapDelete("/sessions/{sessionId:guid}", Sessions.EndAsync).WithName("EndSession");
        api.MapPost("/workspaces", Opening.OpenAnotherAsync)
            .WithTags("Team")
            .ForOneself()
            .WithName("OpenAnotherWorkspace");
    }

    private static Task RefuseNonMember(HttpContext http) =>
        Problems
            .Of(
                StatusCodes.Status403Forbidden,
                "no-membership",
                "You are not a member here",
                "Your account belongs to no workspace. Ask an owner to invite you."
            )
            .ExecuteAsync(http);

    private static Task Refuse(HttpContext http) =>
        Problems
            .Of(StatusCodes.Status401Unauthorized, "signed-out", "You are signed out", "Sign in to go on.")
            .ExecuteAsync(http);
}
