from django.urls import path

from ridgeback.people import link_views, views

app_name = "people"
urlpatterns = [
    path("household/people/", views.people, name="people"),
    path("household/people/invite/", views.invite, name="invite"),
    path("household/people/revoke/", views.revoke, name="revoke"),
    path("household/people/role/", views.change_role, name="change-role"),
    path("household/people/remove/", views.remove, name="remove"),
    path("household/people/links/", views.add_link, name="add-link"),
    path("household/people/links/close/", views.revoke_link, name="revoke-link"),
    path("household/leave/", views.leave, name="leave"),
    path("household/switch/", views.switch, name="switch"),
    path("join/", views.join, name="join"),
    path("join/<str:code>/", views.join, name="join"),
    path("sitter/<str:secret>/", link_views.sitter, name="sitter"),
    path("sitter/<str:secret>/<int:pk>/", link_views.sitter_log, name="sitter-log"),
    path("shown/<str:secret>/", link_views.shown, name="shown"),
    path("shown/<str:secret>/photos/<int:pk>/", link_views.shown_photo, name="shown-photo"),
]
