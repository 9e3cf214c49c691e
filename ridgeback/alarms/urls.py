from django.urls import path

from ridgeback.alarms import views

app_name = "alarms"
urlpatterns = [
    path("alarms/", views.alarms, name="list"),
    path("alarms/<int:pk>/", views.alarm, name="alarm"),
    path("alarms/<int:pk>/acknowledge/", views.acknowledge, name="acknowledge"),
    path("alarms/<int:pk>/snooze/", views.snooze, name="snooze"),
    path("alarms/<int:pk>/silence/", views.silence, name="silence"),
    path("alarms/<int:pk>/false/", views.was_false, name="was-false"),
    path("channels/<int:pk>/watch/", views.speak, name="speak"),
]
