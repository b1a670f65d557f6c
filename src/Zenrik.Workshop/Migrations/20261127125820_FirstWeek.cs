using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Zenrik.Workshop.Migrations
{
    /// <inheritdoc />
    public partial class FirstWeek : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<byte[]>(name: "badge_hash", table: "technicians", type: "bytea", nullable: true);

            migrationBuilder.AddColumn<string>(name: "pin_hash", table: "technicians", type: "text", nullable: true);

            migrationBuilder.CreateTable(
                name: "sign_in_sessions",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    person_id = table.Column<Guid>(type: "uuid", nullable: false),
                    stamp = table.Column<string>(type: "character varying(64)", maxLength: 64, nullable: false),
                    started_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    seen_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    ends_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: true),
                    ended_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: true),
                    device = table.Column<string>(type: "character varying(120)", maxLength: 120, nullable: false),
                    address = table.Column<string>(type: "character varying(45)", maxLength: 45, nullable: false),
                    under_id = table.Column<Guid>(type: "uuid", nullable: true),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_sign_in_sessions", x => x.id);
                    table.ForeignKey(
                        name: "fk_sign_in_sessions_users_person_id",
                        column: x => x.person_id,
                        principalTable: "technicians",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                }
            );

            migrationBuilder.CreateIndex(
                name: "ix_technicians_badge_hash",
                table: "technicians",
                column: "badge_hash",
                unique: true
            );

            migrationBuilder.CreateIndex(
                name: "ix_sign_in_sessions_person_id",
                table: "sign_in_sessions",
                column: "person_id"
            );
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(name: "sign_in_sessions");

            migrationBuilder.DropIndex(name: "ix_technicians_badge_hash", table: "technicians");

            migrationBuilder.DropColumn(name: "badge_hash", table: "technicians");

            migrationBuilder.DropColumn(name: "pin_hash", table: "technicians");
        }
    }
}
