using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Zenrik.Workshop.Migrations
{
    /// <inheritdoc />
    public partial class PinnedStrips : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<Guid>(name: "assigned_to_id", table: "strip_jobs", type: "uuid", nullable: true);

            migrationBuilder.AddColumn<int>(name: "rank", table: "strip_jobs", type: "integer", nullable: true);

            migrationBuilder.CreateIndex(
                name: "ix_strip_jobs_assigned_to_id",
                table: "strip_jobs",
                column: "assigned_to_id"
            );

            migrationBuilder.AddCheckConstraint(
                name: "ck_strip_jobs_pinned",
                table: "strip_jobs",
                sql: "(rank IS NULL) = (assigned_to_id IS NULL)"
            );

            migrationBuilder.AddForeignKey(
                name: "fk_strip_jobs_asp_net_users_assigned_to_id",
                table: "strip_jobs",
                column: "assigned_to_id",
                principalTable: "technicians",
                principalColumn: "id",
                onDelete: ReferentialAction.Restrict
            );
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropForeignKey(name: "fk_strip_jobs_asp_net_users_assigned_to_id", table: "strip_jobs");

            migrationBuilder.DropIndex(name: "ix_strip_jobs_assigned_to_id", table: "strip_jobs");

            migrationBuilder.DropCheckConstraint(name: "ck_strip_jobs_pinned", table: "strip_jobs");

            migrationBuilder.DropColumn(name: "assigned_to_id", table: "strip_jobs");

            migrationBuilder.DropColumn(name: "rank", table: "strip_jobs");
        }
    }
}
