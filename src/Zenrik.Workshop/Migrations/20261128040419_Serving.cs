using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Zenrik.Workshop.Migrations
{
    /// <inheritdoc />
    public partial class Serving : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.CreateTable(
                name: "chores",
                columns: table => new
                {
                    name = table.Column<string>(type: "character varying(40)", maxLength: 40, nullable: false),
                    at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    by = table.Column<string>(type: "character varying(80)", maxLength: 80, nullable: false),
                    seconds = table.Column<double>(type: "double precision", nullable: false),
                    said = table.Column<string>(type: "character varying(300)", maxLength: 300, nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_chores", x => x.name);
                }
            );

            migrationBuilder.CreateTable(
                name: "instances",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    name = table.Column<string>(type: "character varying(80)", maxLength: 80, nullable: false),
                    version = table.Column<string>(type: "character varying(20)", maxLength: 20, nullable: false),
                    started_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    seen_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_instances", x => x.id);
                }
            );

            migrationBuilder.CreateTable(
                name: "mishaps",
                columns: table => new
                {
                    day = table.Column<DateOnly>(type: "date", nullable: false),
                    kind = table.Column<string>(type: "character varying(80)", maxLength: 80, nullable: false),
                    place = table.Column<string>(type: "character varying(120)", maxLength: 120, nullable: false),
                    count = table.Column<int>(type: "integer", nullable: false),
                    last_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey(
                        "pk_mishaps",
                        x => new
                        {
                            x.day,
                            x.kind,
                            x.place,
                        }
                    );
                }
            );
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(name: "chores");

            migrationBuilder.DropTable(name: "instances");

            migrationBuilder.DropTable(name: "mishaps");
        }
    }
}
