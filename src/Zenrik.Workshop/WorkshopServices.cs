using Microsoft.AspNetCore.DataProtection;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using Zenrik.Workshop.BenchLedger;
using Zenrik.Workshop.Demo;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.HouseRules;
using Zenrik.Workshop.Parts;
using Zenrik.Workshop.People;
using Zenrik.Workshop.Repairs;
using Zenrik.Workshop.ServiceMaps;
using Zenrik.Workshop.Stock;
using Zenrik.Workshop.Teardown;

namespace Zenrik.Workshop;

/// <summary>Everything a host needs to offer the use cases.</summary>
public static class WorkshopServices
{
    public static IServiceCollection AddWorkshop(this IServiceCollection services, string connection)
    {
        services.AddDbContext<WorkshopDb>(options => WorkshopDb.Configure(options, connection));
        services.AddMemoryCache();
        services.AddSingleton(TimeProvider.System);
        // Keys in the database: every instance reads the cookies of every other.
        services.AddDataProtection().SetApplicationName("Zenrik").PersistKeysToDbContext<WorkshopDb>();
        services
            .AddIdentityCore<Technician>(options =>
            {
                options.Password.RequiredLength = 10;
                options.Password.RequireDigit = false;
                options.Password.RequireLowercase = false;
                options.Password.RequireUppercase = false;
                options.Password.RequireNonAlphanumeric = false;
                options.Lockout.MaxFailedAccessAttempts = 6;
                options.Lockout.DefaultLockoutTimeSpan = TimeSpan.FromMinutes(5);
            })
            .AddRoles<IdentityRole<Guid>>()
            .AddEntityFrameworkStores<WorkshopDb>();

        services.AddScoped<ServiceMapShelf>();
        services.AddScoped<ViewMaps>();
        services.AddScoped<HouseRulesOf>();
        services.AddScoped<SetHouseRule>();
        services.AddScoped<LearnedTimes>();
        services.AddScoped<PlanFor>();
        services.AddScoped<ApiTokens>();
        services.AddScoped<PassportOf>();
        services.AddScoped<ListUnits>();
        services.AddScoped<ResolveCode>();
        services.AddScoped<ViewStock>();
        services.AddScoped<OpenRepair>();
        services.AddScoped<RepairOf>();
        services.AddScoped<ChooseItem>();
        services.AddScoped<WithdrawRepair>();
        services.AddScoped<CloseRepair>();
        services.AddScoped<ViewCounter>();
        services.AddScoped<ListHistory>();
        services.AddScoped<BenchOf>();
        services.AddScoped<StartSession>();
        services.AddScoped<RecordEntry>();
        services.AddScoped<PrepareDatabase>();
        services.AddScoped<LoadDemo>();
        services.AddScoped<DemoSignIns>();
        return services;
    }
}
