using System.Threading.RateLimiting;
using YoungFolio.Server.Api;

namespace YoungFolio.Server.Security;

/// <summary>How many accounts one address may make: enough for a course that signs up together, too few to fill the disk.</summary>
internal static class SignUpLimit
{
    /// <summary>Name of the policy.</summary>
    public const string Policy = "sign-up";

    /// <summary>Accounts an hour from one address.</summary>
    public const int AnHour = 40;

    /// <summary>Adds the policy, and what is said to whoever meets it.</summary>
    public static void Add(IServiceCollection services) => services.AddRateLimiter(limits =>
    {
        limits.AddPolicy(Policy, context => RateLimitPartition.GetSlidingWindowLimiter(context.Connection.RemoteIpAddress?.ToString() ?? "", _ =>
            new SlidingWindowRateLimiterOptions { PermitLimit = AnHour, Window = TimeSpan.FromHours(1), SegmentsPerWindow = 6, QueueLimit = 0 }));
        limits.OnRejected = async (refused, stop) =>
        {
            refused.HttpContext.Response.StatusCode = StatusCodes.Status429TooManyRequests;
            await refused.HttpContext.Response.WriteAsJsonAsync(new Problem("Too many accounts were made from here in the last hour. Try again later."), stop);
        };
    });
}
