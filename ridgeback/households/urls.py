from django.urls import path

from ridgeback.households import views

app_name = "households"
urlpatterns = [
    path("preferences/", views.preferences, name="preferences"),
    path("filters/save/", views.save_filter, name="save-filter"),
    path("filters/remove/", views.remove_filter, name="remove-filter"),
    path("household/", views.household, name="household"),
    path("household/begin/", views.begin, name="begin"),
    path("rooms/new/", views.room, name="new-room"),
    path("rooms/<int:pk>/", views.room, name="room"),
    path("rooms/<int:pk>/remove/", views.remove_room, name="remove-room"),
]
