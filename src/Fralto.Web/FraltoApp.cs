using System.Text.Json.Serialization;
using Fralto.Runtime.Notices;
using Fralto.Runtime.Recording;
using Fralto.Runtime.Releasing;
using Fralto.StandIns.Maltings;
using Fralto.Store;
using Fralto.Web.Api;
using Fralto.Web.Live;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.AspNetCore.HostFiltering;
using Microsoft.AspNetCore.Http.Features;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.ViewFeatures;
using Microsoft.Extensions.DependencyInjection.Extensions;
using Serilog;

namespace Fralto.Web;

/// <summary>Puts the web application together.</summary>
internal static class FraltoApp
{
    private const long LargestRequest = 1024 * 1024;

    public static WebApplication Build(FraltoOptions options, PlantStore store, StandInPlant? standIns)
    {
        var builder = WebApplication.CreateBuilder(new WebApplicationOptions { ContentRootPath = ContentRoot() });
        builder.Host.UseSerilog();
        builder.WebHost.ConfigureKestrel(kestrel =>
        {
            kestrel.ListenLocalhost(options.Port);
            kestrel.AddServerHeader = false;
            kestrel.Limits.MaxRequestBodySize = LargestRequest;
        });
        builder.Services.Configure<FormOptions>(form => form.ValueCountLimit = 500);
        // Only this machine's own names are answered, so that a foreign page cannot reach Fralto by pointing its name here.
        builder.Services.Configure<HostFilteringOptions>(hosts => hosts.AllowedHosts = ["localhost", "127.0.0.1", "[::1]"]);
        builder.Services.Configure<RouteOptions>(routes => routes.LowercaseUrls = true);
        builder.Services.ConfigureHttpJsonOptions(json =>
        {
            json.SerializerOptions.Converters.Add(new JsonStringEnumConverter());
            json.SerializerOptions.Encoder = System.Text.Encodings.Web.JavaScriptEncoder.Create(System.Text.Unicode.UnicodeRanges.All);
        });
        builder.Services.AddProblemDetails();
        builder.Services.AddOpenApi("v1", api => api.AddDocumentTransformer(
                (document, _, _) =>
                {
                    document.Info.Title = "Fralto";
                    document.Info.Description = "The modelled plant: equipment, templates, controllers, tags, live values and alarms.";
                    document.Servers?.Clear();
                    return Task.CompletedTask;
                }
            ));
        builder.Services.AddRazorPages();
        builder
            .Services.AddDataProtection()
            .SetApplicationName("fralto")
            .PersistKeysToFileSystem(new DirectoryInfo(Path.Combine(options.DataDirectory, "keys")));
        // Cookies are shared by all ports of a host: each instance has its own, or two would break each other's forms.
        var instance = InstanceOf(store, options);
        builder.Services.AddAntiforgery(antiforgery =>
            (antiforgery.Cookie.Name, antiforgery.Cookie.SameSite) = ($"fralto-forms-{instance}", SameSiteMode.Strict)
        );
        builder.Services.AddSingleton<CookieTempDataProvider>();
        builder.Services.Replace(ServiceDescriptor.Singleton<ITempDataProvider, KeptTempData>());
        builder.Services.Configure<CookieTempDataProviderOptions>(done =>
            (done.Cookie.Name, done.Cookie.SameSite) = ($"fralto-done-{instance}", SameSiteMode.Strict)
        );
        builder.Services.AddSingleton(options);
        builder.Services.AddSingleton(TimeProvider.System);
        builder.Services.AddSingleton<Assets>();
        builder.Services.AddSingleton(store);
        builder.Services.AddSingleton(store.Run);
        builder.Services.AddSingleton<ModelWorkspace>();
        builder.Services.AddSingleton<ISecretProtector, SecretProtector>();
        builder.Services.AddSingleton(new Links.OpcUa.UaIdentity(Path.Combine(options.DataDirectory, "ua")));
        builder.Services.AddSingleton(services =>
            Links.ProtocolDrivers.Shipped(
                services.GetRequiredService<Links.OpcUa.UaIdentity>(),
                services.GetRequiredService<TimeProvider>()
            )
        );
        builder.Services.AddSingleton<LinkKeeping>();
        builder.Services.AddSingleton<LinkSupervisor>();
        builder.Services.AddSingleton<AlarmLog>();
        builder.Services.AddSingleton<FormulaKeeper>();
        builder.Services.AddSingleton<PlantRuntime>();
        builder.Services.AddSingleton(store.History);
        builder.Services.AddSingleton<HistoryRecorder>();
        builder.Services.AddSingleton<History>();
        builder.Services.AddSingleton<TagTrends>();
        builder.Services.AddSingleton<Trends>();
        builder.Services.AddSingleton<SavedTrends>();
        builder.Services.AddSingleton<DemoPast>();
        builder.Services.AddSingleton<CommandWriter>();
        builder.Services.AddSingleton<Core.Proposals.ProposalMemory>();
        builder.Services.AddSingleton<ProposalCache>();
        builder.Services.AddSingleton<DoubtWatch>();
        builder.Services.AddSingleton<FindingCache>();
        builder.Services.AddSingleton(new BackupPlace(options.DataDirectory));
        builder.Services.AddSingleton<TrialDesk>();
        builder.Services.AddSingleton<ReleaseDesk>();
        builder.Services.AddSingleton<Exchange.RecentResults<Exchange.Browsing>>();
        builder.Services.AddSingleton<Exchange.RecentResults<Core.Exchange.TypeLibrary>>();
        builder.Services.AddSingleton<HeaderFigures>();
        builder.Services.AddSingleton<Listings.ListingMemory>();
        builder.Services.AddSingleton<LiveFeed>();
        builder.Services.AddSingleton<RawWatches>();
        builder.Services.AddSingleton<ValueWatch>();
        builder.Services.AddSingleton<CommandFollower>();
        // Tried again with back-off, each time for ten seconds at most.
        builder
            .Services.AddHttpClient(nameof(AlarmResponder))
            .AddStandardResilienceHandler(resilience =>
            {
                resilience.Retry.MaxRetryAttempts = 3;
                resilience.AttemptTimeout.Timeout = TimeSpan.FromSeconds(5);
                resilience.TotalRequestTimeout.Timeout = TimeSpan.FromSeconds(30);
            });
        builder.Services.AddSingleton(services =>
            ActivatorUtilities.CreateInstance<AlarmResponder>(
                services,
                services.GetRequiredService<IHttpClientFactory>().CreateClient(nameof(AlarmResponder))
            )
        );
        builder.Services.AddSingleton<IMailSender, MailSender>();
        builder.Services.AddSingleton<AlarmNotifier>();
        builder.Services.AddSingleton<Exchange.RecentResults<Exchange.PendingImport>>();
        builder.Services.AddHostedService<RuntimeHost>();
        if (standIns is not null)
        {
            builder.Services.AddSingleton(standIns);
            builder.Services.AddHostedService<StandInHost>();
        }

        var app = builder.Build();
        app.UseWhen(IsApi, api => api.Use(ApiErrors.ProblemsAsync));
        app.UseWhen(
            context => !IsApi(context),
            pages =>
            {
                pages.UseExceptionHandler("/error");
                pages.UseStatusCodePagesWithReExecute("/error", "?code={0}");
            }
        );
        app.UseHostFiltering();
        app.Use(SecureAsync);
        app.Use(KeepForeignOutAsync);
        app.Use(app.Services.GetRequiredService<Assets>().ServeAsync);
        app.UseStaticFiles();
        app.UseRouting();
        app.Use(ApiErrors.BodiesAsync);
        app.MapRazorPages();
        app.MapOpenApi("/api/{documentName}/openapi.json");
        app.MapPlantApi();
        app.MapModelApi();
        app.MapReleaseApi();
        app.MapTagApi();
        app.MapAlarmApi();
        app.MapHistoryApi();
        app.MapBindingApi();
        app.MapLive();
        return app;
    }

    /// <summary>Finds out before anybody is served whether the keys that guard forms and passwords can be used.</summary>
    /// <exception cref="StoreException">They cannot; the message says what to do.</exception>
    public static void TryKeys(IServiceProvider services, FraltoOptions options)
    {
        try
        {
            var protector = services.GetRequiredService<IDataProtectionProvider>().CreateProtector("start");
            protector.Unprotect(protector.Protect("start"));
        }
        catch (Exception e)
            when (e
                    is System.Security.Cryptography.CryptographicException
                        or System.Xml.XmlException
                        or IOException
                        or UnauthorizedAccessException
                        or InvalidOperationException
            )
        {
            var reason = e;
            while (reason.InnerException is { } inner)
                reason = inner;
            throw new StoreException(
                $"The keys in {Path.Combine(options.DataDirectory, "keys")} cannot be used: "
                    + $"{reason.Message.Split('\n')[0].TrimEnd('.')}. Put back a copy of them; or move that directory away, and type "
                    + $"the passwords of controllers again.",
                e
            );
        }
    }

    private static bool IsApi(HttpContext context) => context.Request.Path.StartsWithSegments("/api");

    /// <summary>A name for this plant's cookies that no other plant on this host has.</summary>
    private static string InstanceOf(PlantStore store, FraltoOptions options)
    {
        if (store.Run.Note("instance") is { } known)
            return known;
        var made = Convert.ToHexStringLower(System.Security.Cryptography.RandomNumberGenerator.GetBytes(6));
        try
        {
            store.Run.SetNote("instance", made);
            return made;
        }
        catch (StoreException)
        {
            return options.Port.ToString(System.Globalization.CultureInfo.InvariantCulture);
        }
    }

    /// <summary>Pages may load and call nothing but Fralto itself, and no script or style stands in a page.</summary>
    private static Task SecureAsync(HttpContext context, RequestDelegate next)
    {
        var headers = context.Response.Headers;
        headers.ContentSecurityPolicy =
            "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self' data:; font-src 'self'; connect-src 'self'; "
            + "form-action 'self'; base-uri 'none'; frame-ancestors 'none'";
        headers.XContentTypeOptions = "nosniff";
        headers["Referrer-Policy"] = "same-origin";
        return next(context);
    }

    /// <summary>
    /// A page of somewhere else may lead here, but not have anything done or worked out here behind its reader's back: browsers say where a
    /// request comes from
    /// (Fetch Metadata, Sec-Fetch-Site; RFC 6454, Origin). Programs that say nothing of it are no browsers.
    /// </summary>
    private static Task KeepForeignOutAsync(HttpContext context, RequestDelegate next)
    {
        var request = context.Request;
        var isForeign =
            request.Headers["Sec-Fetch-Site"].ToString() is "cross-site" or "same-site"
            || (
                request.Headers.Origin.ToString() is { Length: > 0 } origin
                && !string.Equals(origin, $"{request.Scheme}://{request.Host}", StringComparison.OrdinalIgnoreCase)
            );
        var isLedHere = HttpMethods.IsGet(request.Method) && request.Headers["Sec-Fetch-Mode"].ToString() == "navigate";
        if (!isForeign || isLedHere)
            return next(context);
        context.Response.StatusCode = StatusCodes.Status403Forbidden;
        return Task.CompletedTask;
    }

    /// <summary>The folder that holds wwwroot: beside the program, or the project it was built from.</summary>
    private static string ContentRoot()
    {
        for (var at = new DirectoryInfo(AppContext.BaseDirectory); at is not null; at = at.Parent)
            if (Directory.Exists(Path.Combine(at.FullName, "wwwroot", "css")))
                return at.FullName;
        throw new DirectoryNotFoundException("The folder wwwroot with styles and scripts is missing beside the program.");
    }
}
