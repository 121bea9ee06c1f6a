using System.Net;
using System.Net.Sockets;
using Allowance.Store;
using Microsoft.AspNetCore.DataProtection;
using Serilog;
using Serilog.Events;

namespace Allowance.Web.Commands;

/// <summary>Builds and runs the web application.</summary>
public static class Serving
{
    public static int Run(int port, string dataDirectory, bool demo)
    {
        Log.Logger = new LoggerConfiguration()
            .MinimumLevel.Information()
            .MinimumLevel.Override("Microsoft", LogEventLevel.Warning)
            // A start that fails is said in plain words below.
            .MinimumLevel.Override("Microsoft.Extensions.Hosting.Internal.Host", LogEventLevel.Fatal)
            // The keys lie beside the household's own file, with the same rights.
            .MinimumLevel.Override("Microsoft.AspNetCore.DataProtection", LogEventLevel.Error)
            .Enrich.FromLogContext()
            .WriteTo.Console(outputTemplate: "{Timestamp:HH:mm:ss} {Level:u3} {Message:lj} {Properties:j}{NewLine}{Exception}", standardErrorFromLevel: LogEventLevel.Verbose)
            .CreateLogger();
        try
        {
            if (port is < 1 or > 65535)
            {
                Console.Error.WriteLine($"{port} is no port; choose one from 1024 to 65535, for example --port 5210.");
                return 2;
            }
            var database = Database.Open(dataDirectory);
            var app = Build(database, port);
            if (demo) DemoHousehold.Fill(database, TimeProvider.System);
            app.Lifetime.ApplicationStarted.Register(() => Console.WriteLine($"Allowance is at http://localhost:{port}/ — its data is in {dataDirectory}. Stop it with Ctrl+C."));
            app.Run();
            return 0;
        }
        catch (StoreClosedException e)
        {
            Console.Error.WriteLine(e.Message);
            return 2;
        }
        catch (IOException e) when (e.InnerException is SocketException or Microsoft.AspNetCore.Connections.AddressInUseException)
        {
            Console.Error.WriteLine($"Port {port} is in use by another program. Nothing was changed; port {FreePort(port)} is free: add --port {FreePort(port)}.");
            return 2;
        }
        finally
        {
            Log.CloseAndFlush();
        }
    }

    private static int FreePort(int after)
    {
        for (int port = after + 1; port < Math.Min(65535, after + 200); port++)
        {
            try
            {
                using var listener = new TcpListener(IPAddress.Loopback, port);
                listener.Start();
                return port;
            }
            catch (SocketException)
            {
                // Taken too; the next one may be free.
            }
        }
        return 0;
    }

    /// <summary>The application over a household's file. It answers on the loopback address only.</summary>
    public static WebApplication Build(Database database, int port)
    {
        var builder = WebApplication.CreateBuilder(new WebApplicationOptions { ContentRootPath = AppContext.BaseDirectory, ApplicationName = typeof(Serving).Assembly.GetName().Name });
        builder.Host.UseSerilog();
        builder.WebHost.ConfigureKestrel(kestrel =>
        {
            kestrel.Listen(IPAddress.Loopback, port);
            kestrel.Limits.MaxRequestBodySize = 1024 * 1024;
            kestrel.AddServerHeader = false;
        });
        Compose(builder.Services, database);
        var app = builder.Build();
        Pipeline(app);
        return app;
    }

    public static void Compose(IServiceCollection services, Database database)
    {
        services.AddDataProtection().SetApplicationName("Allowance").PersistKeysToFileSystem(new DirectoryInfo(Path.Combine(Path.GetDirectoryName(database.File)!, "keys")));
        services.AddSingleton(TimeProvider.System);
        services.AddSingleton(database);
        services.AddSingleton<Players>();
        services.AddSingleton<Settings>();
        services.AddSingleton<Things>();
        services.AddSingleton<SavedSetups>();
        services.AddSingleton<Observations>();
        services.AddSingleton<Entries>();
        services.AddSingleton<Logbook>();
        services.AddSingleton<Estimates>();
        services.AddSingleton<ChildLogs>();
        services.AddSingleton<SittingLog>();
        services.AddSingleton<Household>();
        services.AddSingleton<Tables>();
        services.AddRazorPages();
        services.AddAntiforgery(options => options.HeaderName = "RequestVerificationToken");
        services.AddOpenApi();
        services.AddProblemDetails();
    }

    public static void Pipeline(WebApplication app)
    {
        app.UseExceptionHandler("/trouble");
        app.UseStatusCodePagesWithReExecute("/trouble", "?code={0}");
        app.Use(SecurityHeaders);
        app.MapStaticAssets();
        app.UseRouting();
        app.UseAntiforgery();
        app.MapRazorPages();
        app.MapOpenApi();
        app.MapGet("/plaintext", () => Results.Text("Allowance"));
        ForecastApi.Map(app);
    }

    private static Task SecurityHeaders(HttpContext context, RequestDelegate next)
    {
        var headers = context.Response.Headers;
        headers.ContentSecurityPolicy = "default-src 'self'; object-src 'none'; base-uri 'self'; form-action 'self'; frame-ancestors 'none'";
        headers.XContentTypeOptions = "nosniff";
        headers["Referrer-Policy"] = "same-origin";
        return next(context);
    }
}
